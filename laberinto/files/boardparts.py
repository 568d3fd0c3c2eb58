"""What the JSON files in a board file hold, field by field. Times have their zone, lengths are mm."""

from __future__ import annotations

from typing import Any

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field

Words = Field(default="", max_length=20_000)
Step = Field(max_length=120)


class Part(BaseModel):
    """Never changed, and nothing in it that is not known."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Change(Part):
    """One revision: the place of the one it was made from, what was changed in words, its name if it has one, and the
    plan as it stood then."""

    parent: int | None = None
    words: str = Words
    name: str = Field(default="", max_length=200)
    token: str = Field(default="", max_length=200)
    created: AwareDatetime
    plan: dict[str, Any]


class Ordered(Part):
    """The order it belongs to."""

    whom: str = Field(default="", max_length=200)
    due: AwareDatetime | None = None
    price: float | None = Field(default=None, ge=0)
    state: str = Field(pattern="^(asked|quoted|agreed|handed|off)$")
    note: str = Words
    created: AwareDatetime
    since: AwareDatetime


class History(Part):
    """All revisions in their order, which one is on show, and the variants."""

    created: AwareDatetime
    changed: AwareDatetime
    archived: AwareDatetime | None = None
    head: int = Field(ge=0)
    variant: str = Field(default="", pattern="^[A-Z]?$")
    variants: dict[str, int] = {}
    changes: tuple[Change, ...] = Field(min_length=1, max_length=50_000)
    order: Ordered | None = None


class Noted(Part):
    """An entry of the build log."""

    step: str = Step
    text: str = Words
    measured: float | None = None
    planned: float | None = None
    quantity: str = Field(default="", max_length=60)
    unit: str = Field(default="mm", max_length=20)
    piece: int | None = None
    spots: tuple[float, ...] = Field(default=(), max_length=100)
    created: AwareDatetime


class Pictured(Part):
    """A photo of a step; it is ``photos/<place in the list, from 1>.jpg``."""

    step: str = Step
    created: AwareDatetime


class Tallied(Part):
    """Pieces counted at a step."""

    step: str = Step
    count: int = Field(ge=0, le=100_000)
    first: AwareDatetime
    last: AwareDatetime


class Stood(Part):
    """A finding that was let stand."""

    key: str = Field(max_length=200)
    why: str = Words
    reason: str = Words
    created: AwareDatetime


class Pinned(Part):
    """A fault or a fill; ``photo`` is the place of its picture among the photos, from 1."""

    piece: int = Field(ge=0, le=1000)
    side: str = Field(pattern="^(top|bottom|front|back|left|right)$")
    x: float
    y: float
    fault: str = Field(max_length=60)
    strip: str = Field(default="", max_length=80)
    wood: str = Field(default="", max_length=80)
    stage: str = Field(default="", max_length=80)
    text: str = Words
    mended: str = Words
    minutes: float | None = None
    photo: int | None = Field(default=None, ge=1)
    created: AwareDatetime


class Taught(Part):
    """A lesson that it taught."""

    text: str = Words
    kind: str = Field(default="", max_length=60)
    machine: str = Field(default="", max_length=60)
    wood: str = Field(default="", max_length=60)
    family: str = Field(default="", max_length=60)
    thickness: float | None = None
    order: str = Field(default="", max_length=200)
    taught_by: str = Field(default="", max_length=200)
    created: AwareDatetime


class Log(Part):
    """The build: done steps, entries, photos, counts, what was let stand, faults, lessons."""

    ticks: dict[str, AwareDatetime] = Field(default={}, max_length=5000)
    notes: tuple[Noted, ...] = ()
    photos: tuple[Pictured, ...] = Field(default=(), max_length=3000)
    tallies: tuple[Tallied, ...] = ()
    stands: tuple[Stood, ...] = ()
    pins: tuple[Pinned, ...] = ()
    lessons: tuple[Taught, ...] = ()


class UsedLot(Part):
    """A lot it was cut from or left over: its number there, and the place of the cut that left it, if one did."""

    number: int = Field(ge=1)
    lot: dict[str, Any]
    cut: int | None = Field(default=None, ge=0)
    photo: bool = False
    created: AwareDatetime


class Taken(Part):
    """A cut plan that was taken up: ``took`` says how many pieces of which lots."""

    state: str = Field(pattern="^(reserved|booked|undone)$")
    plan: dict[str, Any]
    took: dict[int, int] = {}
    created: AwareDatetime


class Used(Part):
    """The wood it was cut from."""

    lots: tuple[UsedLot, ...] = Field(default=(), max_length=2000)
    cuts: tuple[Taken, ...] = Field(default=(), max_length=500)


class Manifest(Part):
    """What the file is, and the SHA-256 of each file in it."""

    format: str
    version: int
    name: str = Field(max_length=200)
    written: AwareDatetime
    by: str = Field(max_length=60)
    files: dict[str, str] = Field(max_length=4000)
