"""Woods of the shop's own, and the photos they look like."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass

from sqlalchemy import Engine
from sqlmodel import Session, select

from laberinto.core.woods import Wood

from .database import writing
from .tables import OwnWood, WoodPhoto

Corners = tuple[tuple[float, float], ...]

WHOLE: Corners = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
"""All of a photo."""


@dataclass(frozen=True, slots=True)
class PhotoOf:
    """A photo of a part of a wood: upper left, upper right, lower right and lower left corner of the wood in it (shares
    of its width and height), the size of that in mm, and the finish it was taken with."""

    jpeg: bytes
    corners: Corners
    width: float
    height: float
    finish: str

    @property
    def mark(self) -> str:
        """Another for every change."""
        told = repr((self.corners, self.width, self.height, self.finish)).encode()
        return hashlib.sha256(self.jpeg + told).hexdigest()[:12]


class OwnWoods:
    """All of them."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def all(self) -> list[Wood]:
        """As they are kept, each with the name of its look."""
        photos = self.photos()
        with Session(self.engine) as session:
            rows = session.exec(select(OwnWood)).all()
            woods = [Wood.model_validate_json(row.data) for row in rows]
        return [wood.model_copy(update={"look": look_of(photos.get(wood.key, {}))}) for wood in woods]

    def photos(self) -> dict[str, dict[str, PhotoOf]]:
        """Photos by wood and part."""
        found: dict[str, dict[str, PhotoOf]] = {}
        with Session(self.engine) as session:
            for row in session.exec(select(WoodPhoto)).all():
                corners = tuple((float(x), float(y)) for x, y in json.loads(row.corners))
                photo = PhotoOf(row.jpeg, corners, row.width, row.height, row.finish)
                found.setdefault(row.wood, {})[row.part] = photo
        return found

    def keep(self, wood: Wood) -> None:
        """Keep a wood; what was kept under its key is replaced, its photos stay."""
        with writing(self.engine) as session:
            session.merge(OwnWood(key=wood.key, data=wood.model_copy(update={"look": ""}).model_dump_json()))
            session.commit()

    def picture(self, key: str, part: str, photo: PhotoOf | None) -> None:
        """Give a part of a wood a photo, or with None let go of it."""
        with writing(self.engine) as session:
            row = session.get(WoodPhoto, (key, part))
            if photo is not None:
                session.merge(WoodPhoto(wood=key, part=part, jpeg=photo.jpeg, corners=json.dumps(photo.corners),
                                        width=photo.width, height=photo.height, finish=photo.finish))  # fmt: skip
            elif row is not None:
                session.delete(row)
            session.commit()

    def remove(self, key: str) -> None:
        """Let go of a wood with its photos."""
        with writing(self.engine) as session:
            for photo in session.exec(select(WoodPhoto).where(WoodPhoto.wood == key)).all():
                session.delete(photo)
            session.flush()
            if (row := session.get(OwnWood, key)) is not None:
                session.delete(row)
            session.commit()


def look_of(photos: dict[str, PhotoOf]) -> str:
    """The name of a look: "" where there is no photo, and another for every change."""
    told = "".join(f"{part}{photo.mark}" for part, photo in sorted(photos.items()))
    return hashlib.sha256(told.encode()).hexdigest()[:16] if photos else ""
