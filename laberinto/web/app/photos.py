"""Pictures as they come and as they are kept: looked at before they are decoded, made small while they are, one at a
time; a photo is kept upright and with nothing in it but the picture."""

from __future__ import annotations

from contextlib import suppress
from io import BytesIO
from threading import Lock

from PIL import Image, ImageFile, ImageOps
from werkzeug.datastructures import FileStorage

from laberinto.core.errors import InputError

MOST_PHOTO = 1280
"""Longest side of a photo that is kept, pixels."""

MOST_PIXELS = 40_000_000
"""No larger JPEG is decoded. It is decoded small, an eighth of its sides at the least, and never held whole."""

MOST_WHOLE = 16_000_000
"""No larger picture of another format, which has to be held whole once: 64 MB."""

FORMATS = ("JPEG", "PNG", "WEBP", "GIF", "BMP")
"""Others are read by nobody here: the less is decoded, the less can be wrong with it."""

Image.init()  # all are known before one is named

_ONE_AT_A_TIME = Lock()


def small_jpeg(upload: FileStorage | None, field: str = "photo") -> bytes:
    """An uploaded picture as a JPEG of modest size, without place or camera. Raises InputError where it is none."""
    return shrunk(upload.read() if upload else b"", field)


def shrunk(data: bytes, field: str) -> bytes:
    """The same of a picture's bytes."""
    out = BytesIO()
    reduced(data, field, MOST_PHOTO).convert("RGB").save(out, "JPEG", quality=82)
    return out.getvalue()


def sound(data: bytes, field: str) -> bytes:
    """A photo that was kept by a Laberinto: one that is small already and carries nothing else stays as it is. Raises
    InputError where it cannot be read."""
    with _ONE_AT_A_TIME, suppress(Exception):  # whatever is wrong with it, the other way says
        ImageFile.LOAD_TRUNCATED_IMAGES = False
        with Image.open(BytesIO(data), formats=("JPEG",)) as image:
            if max(image.size) <= MOST_PHOTO and not image.getexif():
                image.load()
                return data
    return shrunk(data, field)


def reduced(data: bytes, field: str, side: int) -> Image.Image:
    """A picture, upright, with no side longer than ``side`` pixels; RGBA where parts of it are clear. Raises InputError
    where it is none that can be read."""
    if not data:
        raise InputError("No picture was chosen. Take a JPEG or PNG.", field)
    with _ONE_AT_A_TIME:
        try:
            return _reduced(data, field, side)
        except InputError:
            raise
        except Exception:  # a damaged picture can fail a decoder in any way: it is the picture's fault
            raise InputError(
                "That file is not a picture that can be read; it may be damaged. Take a JPEG or PNG.", field
            ) from None


def _reduced(data: bytes, field: str, side: int) -> Image.Image:
    ImageFile.LOAD_TRUNCATED_IMAGES = False  # whoever prints sets it for everybody
    with Image.open(BytesIO(data), formats=FORMATS) as image:
        least = MOST_PIXELS if image.format in ("JPEG", "MPO") else MOST_WHOLE
        if image.width * image.height > least:
            raise InputError(
                f"That picture has {image.width} × {image.height} pixels; at most {least // 1_000_000} million are "
                f"read of a {image.format}. Send a smaller one.", field,
            )  # fmt: skip
        image.draft("RGB", (side, side))  # a JPEG is never decoded larger than it has to be
        if image.mode not in ("RGB", "L", "RGBA"):
            small: Image.Image = image.convert("RGBA" if image.has_transparency_data else "RGB")
            small.thumbnail((side, side))
        else:  # made small where it is, so that it is never held twice
            image.thumbnail((side, side))
            small = image
        return ImageOps.exif_transpose(small)
