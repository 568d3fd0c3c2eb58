"""A face as a bitmap, for those who want a picture of it: to send to someone, or to put beside a price."""

from __future__ import annotations

from io import BytesIO

import numpy as np
from PIL import Image, ImageColor, ImageDraw

from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.plan.simulate import Simulation

from .atlas import painted
from .light import veils
from .merge import merged
from .seams import SEAM, seams
from .skin import Painted
from .svg import Floats

LONGEST = 1200
"""Pixels of the picture's longer side."""

FINE = 2
"""It is painted so many times larger, so that slanted edges come out smooth."""

MARGIN = 0.04
"""Of the longer side, on all sides."""

GROUND = "#f4f2ee"

JOINT, JOINT_INK = 0.25, 96
"""Width of a joint in mm and how dark it is (0 to 255)."""


def png(sim: Simulation, finish: str = "oiled") -> bytes:
    """The finished face as a PNG file."""
    out = BytesIO()
    _picture(sim, finish).save(out, "PNG")
    return out.getvalue()


def jpeg(sim: Simulation, finish: str = "oiled") -> bytes:
    """The same as a JPEG file, which is written ten times as fast and stands in a PDF as it is."""
    out = BytesIO()
    _picture(sim, finish).save(out, "JPEG", quality=90)
    return out.getvalue()


def _picture(sim: Simulation, finish: str) -> Image.Image:
    face = merged(face_of(sim.whole(), Side.TOP))
    margin = MARGIN * float(face.size.max())
    scale = LONGEST * FINE / (float(face.size.max()) + 2 * margin)
    wide, high = (round((float(v) + 2 * margin) * scale) for v in face.size)
    whole = Image.new("RGB", (wide, high), GROUND)
    points = (face.points + margin) * scale
    _wood(whole, face, points, sim, finish, np.array([[scale, 0, margin * scale], [0, scale, margin * scale]]))
    whole.paste(*_shades(face, points, whole.size))
    whole.paste(*_joints(face, margin, scale, whole.size))
    return whole.resize((wide // FINE, high // FINE), Image.Resampling.LANCZOS)


def _wood(whole: Image.Image, face: Face, points: Floats, sim: Simulation, finish: str, place: Floats) -> None:
    """Each polygon filled with its own part of its strip."""
    skin = Painted(sim, "p", lambda _token, _finish: "", finish)
    names = skin.names(face)
    _, atlas = skin.atlas()
    bitmaps = dict(zip(skin.sheets, map(Image.fromarray, painted(atlas, finish)), strict=True))
    for i, name in enumerate(names):
        ring = points[face.ptr[i] : face.ptr[i + 1]]
        box = np.concatenate([np.floor(ring.min(axis=0)) - 1, np.ceil(ring.max(axis=0)) + 1]).astype(int)
        size = int(box[2] - box[0]), int(box[3] - box[1])
        sheet, bitmap = skin.sheets[name], bitmaps[name]
        fine = np.array([bitmap.width / sheet.patch.width, bitmap.height / sheet.patch.height])
        # from a pixel of the picture back to the strip, and from there to its bitmap
        to_picture = place[:, :2] @ face.maps[i][:, :2]
        back = np.linalg.inv(to_picture)
        origin = back @ (box[:2] - place[:, :2] @ face.maps[i][:, 2] - place[:, 2]) - (sheet.left, sheet.top)
        rows = np.column_stack([back * fine[:, None], origin * fine])
        filled = bitmap.transform(size, Image.Transform.AFFINE, tuple(rows.ravel()), Image.Resampling.BILINEAR)
        mask = Image.new("L", size)
        ImageDraw.Draw(mask).polygon([tuple(p) for p in (ring - box[:2]).tolist()], fill=255)
        whole.paste(filled, (int(box[0]), int(box[1])), mask)


def _shades(face: Face, points: Floats, size: tuple[int, int]) -> tuple[Image.Image, None, Image.Image]:
    """What lies deep or leans away, as a layer of its own with its mask."""
    layer = Image.new("RGBA", size)
    for at, ink, opacity in veils(face):
        ring = [tuple(p) for p in points[face.ptr[at] : face.ptr[at + 1]].tolist()]
        colour = (*ImageColor.getrgb(ink)[:3], round(255 * opacity))
        ImageDraw.Draw(layer, "RGBA").polygon(ring, fill=colour)
    return layer.convert("RGB"), None, layer.getchannel("A")


def _joints(face: Face, margin: float, scale: float, size: tuple[int, int]) -> tuple[Image.Image, None, Image.Image]:
    """The glue lines, thin and dark, with their mask."""
    mask = Image.new("L", size)
    pen = ImageDraw.Draw(mask)
    found = seams(face)
    rings = (
        [ring for _, ring in found]
        if found is not None
        else [face.points[face.ptr[i] : face.ptr[i + 1]] for i in range(len(face))]
    )
    for ring in rings:
        corners = [tuple(p) for p in ((ring + margin) * scale).tolist()]
        pen.line([*corners, corners[0]], fill=JOINT_INK, width=max(round(JOINT * scale), 1))
    return Image.new("RGB", size, SEAM), None, mask
