"""Photos as they are kept: small, upright, and with nothing in them but the picture."""

from __future__ import annotations

from io import BytesIO

from PIL import Image, ImageOps, UnidentifiedImageError
from werkzeug.datastructures import FileStorage

from laberinto.core.errors import InputError

MOST_PHOTO = 1280
"""Longest side of a photo that is kept, pixels."""

MOST_PIXELS = 40_000_000
"""No larger picture is decoded."""


def small_jpeg(upload: FileStorage | None, field: str = "photo") -> bytes:
    """An uploaded picture as a JPEG of modest size, without place or camera. Raises InputError where it is none."""
    return shrunk(upload.read() if upload else b"", field)


def shrunk(data: bytes, field: str) -> bytes:
    """The same of a picture's bytes."""
    try:
        with Image.open(BytesIO(data)) as image:
            if image.width * image.height > MOST_PIXELS:
                raise InputError(
                    f"That picture has {image.width} × {image.height} pixels; at most 40 million are read. Send a "
                    "smaller one.", field,
                )  # fmt: skip
            image.draft("RGB", (MOST_PHOTO, MOST_PHOTO))  # a JPEG is never decoded larger than it has to be
            if image.mode not in ("RGB", "L"):
                small: Image.Image = image.convert("RGB")
                small.thumbnail((MOST_PHOTO, MOST_PHOTO))
            else:  # made small where it is, so that it is never held twice
                image.thumbnail((MOST_PHOTO, MOST_PHOTO))
                small = image
            small = ImageOps.exif_transpose(small).convert("RGB")
            out = BytesIO()
            small.save(out, "JPEG", quality=82)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise InputError("That file is not a picture that can be read. Take a JPEG or PNG.", field) from None
    return out.getvalue()
