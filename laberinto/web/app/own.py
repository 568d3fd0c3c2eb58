"""The shop's own woods, taken into the library when the application starts and whenever one changes."""

from __future__ import annotations

from io import BytesIO

import numpy as np
from PIL import Image

from laberinto.core.woods import LIBRARY
from laberinto.drawing import looks
from laberinto.drawing.photograph import Pixels, tile
from laberinto.store import PhotoOf, Store


def take_in(store: Store) -> None:
    """Let every page know them, and how they look."""
    woods, photos = store.woods.all(), store.woods.photos()
    looks.keep({
        wood.look: {part: look(photo) for part, photo in photos[wood.key].items()} for wood in woods if wood.look
    })  # fmt: skip
    LIBRARY.take_in(woods)


def look(photo: PhotoOf) -> looks.Look:
    """How a part of a wood looks; its tile is made when it is first drawn."""
    return looks.Look(lambda: tiled(photo), photo.width, photo.height, photo.finish)


def tiled(photo: PhotoOf) -> Pixels:
    """The tile of a photo; plain grey where its corners span no area."""
    with Image.open(BytesIO(photo.jpeg)) as image:
        try:
            return tile(image, photo.corners, photo.width, photo.height)
        except ValueError:
            return np.full((8, 8, 3), 128, np.uint8)
