"""``make photos``: the demo's photos of finished boards, rendered from their plans: a board on the bench, seen aslant,
with light from a window."""

from __future__ import annotations

from io import BytesIO

import numpy as np
from PIL import Image, ImageColor, ImageFilter

from laberinto.core.plan.simulate import simulate
from laberinto.demo.finished import FINISHED, PHOTOS, photographed
from laberinto.drawing.photograph import perspective
from laberinto.drawing.raster import GROUND, png

WIDE, HIGH = 720, 540
BENCH = ((176, 150, 118), (139, 112, 84), (120, 104, 92))
"""Three benches, as they look on three days."""


def photo(face: Image.Image, day: int, seed: int) -> Image.Image:
    """The face lying on a bench: tilted away, with a shadow, lit from one side, a little grain of the camera."""
    chance = np.random.default_rng(seed)
    ground = np.ones((HIGH, WIDE, 3)) * np.array(BENCH[day])
    planks = np.repeat(chance.normal(0, 7, HIGH // 90 + 1), 90)[:HIGH]
    grain = np.cumsum(chance.normal(0, 0.9, (HIGH, 1)), axis=0)
    ground += planks[:, None, None] + (grain - grain.mean())[:, :, None]
    whole = Image.fromarray(ground.clip(0, 255).astype(np.uint8))
    scale = min(WIDE * 0.74 / face.width, HIGH * 0.84 / face.height)
    w, h = face.width * scale, face.height * scale
    turn = np.radians(chance.uniform(-9, 9))
    corners = []
    for x, y in ((-w / 2, -h / 2), (w / 2, -h / 2), (w / 2, h / 2), (-w / 2, h / 2)):
        rx, ry = x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)
        away = 1 - ry / HIGH * 0.28  # what is farther looks smaller
        corners.append((WIDE / 2 + rx / away, HIGH / 2 + ry * 0.86 / away))
    back = perspective(corners, ((0, 0), (face.width, 0), (face.width, face.height), (0, face.height)))
    laid = face.transform((WIDE, HIGH), Image.Transform.PERSPECTIVE, back, Image.Resampling.BICUBIC)
    there = (np.abs(np.asarray(face, int) - ImageColor.getrgb(GROUND)).max(axis=2) > 7) * np.uint8(255)
    mask = Image.fromarray(there).filter(ImageFilter.MedianFilter(5))  # between bars the bench shows
    mask = mask.transform((WIDE, HIGH), Image.Transform.PERSPECTIVE, back)
    shadow = Image.new("L", (WIDE, HIGH))
    shadow.paste(mask.point(lambda v: int(v * 0.6)), (9, 14))
    whole.paste((30, 24, 18), mask=shadow.filter(ImageFilter.GaussianBlur(9)))
    whole.paste(laid, mask=mask.filter(ImageFilter.GaussianBlur(0.6)))
    light = 1.12 - 0.34 * np.linspace(0, 1, WIDE)[None, :] - 0.1 * np.linspace(0, 1, HIGH)[:, None]
    lit = np.asarray(whole, float) * light[:, :, None] + chance.normal(0, 2.2, (HIGH, WIDE, 1))
    return Image.fromarray(lit.clip(0, 255).astype(np.uint8))


def main() -> None:
    PHOTOS.mkdir(exist_ok=True)
    for number, one in enumerate(FINISHED):
        plan = one.plan()
        for day, stage in enumerate(photographed(plan)):
            sim = simulate(plan.upto(plan.index(stage) + 1))
            face = Image.open(BytesIO(png(sim, "oiled" if day == 2 else "raw"))).convert("RGB")
            edge = round(0.037 * max(face.size))  # the picture's own margin
            face = face.crop((edge, edge, face.width - edge, face.height - edge))
            photo(face, day, 10 * number + day).save(PHOTOS / f"{one.slug}-{day + 1}.jpg", quality=74, optimize=True)


if __name__ == "__main__":
    main()
