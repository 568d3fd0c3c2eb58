"""What a wood is, as far as a board maker cares."""

from __future__ import annotations

from enum import StrEnum

from pydantic import BaseModel, ConfigDict, Field


class Porosity(StrEnum):
    """How the vessels lie in a growth ring."""

    RING = "ring-porous"
    SEMI_RING = "semi-ring-porous"
    DIFFUSE = "diffuse-porous"
    NONE = "non-porous"


class Tone(StrEnum):
    """How the wood reads beside others once oiled."""

    LIGHT = "light"
    MID = "mid"
    DARK = "dark"


class Caution(StrEnum):
    """What to know before this wood is worked or put under food."""

    SENSITISING_DUST = "sensitising-dust"
    ALLERGY = "allergy"
    TRADE_CONTROL = "trade-control"
    NOT_UNDER_FOOD = "not-under-food"
    SEEPS = "seeps"
    NASAL_CANCER = "nasal-cancer"
    DOUBTED_UNDER_FOOD = "doubted-under-food"
    BLEEDS = "bleeds"


CAUTION_TEXT: dict[Caution, str] = {
    Caution.SENSITISING_DUST: "the dust can sensitise skin and lungs; extract it and wear a fitted mask",
    Caution.ALLERGY: "from a nut-bearing or known allergenic tree; tell whoever will use the board",
    Caution.TRADE_CONTROL: "trade in this wood is controlled; keep the papers and check local law",
    Caution.NOT_UNDER_FOOD: "poisonous; it does not belong under food",
    Caution.NASAL_CANCER: "years of its dust are known to cause cancer of the nose; extract it and wear a fitted mask",
    Caution.DOUBTED_UNDER_FOOD: "what it holds can irritate or sensitise; not every maker lets it touch food",
    Caution.BLEEDS: "its colour bleeds into pale wood, oil and wet food",
    Caution.SEEPS: "vessels open from end to end; oil and water seep right through",
}


class Wood(BaseModel):
    """One species as dried timber.

    ``density`` is kg/m³ at about 12 % moisture; ``tangential`` and ``radial`` are total shrinkage from
    green to oven-dry in percent; ``hardness`` is the side (Janka) hardness in newtons. ``raw`` and
    ``oiled`` are sRGB colours of a sanded end-grain face, ``ring`` how much darker latewood is (0 to 1),
    ``spacing`` a usual ring width in mm. ``source`` is a key of SOURCES. ``look`` names what it was photographed as; ""
    where its rings are drawn.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    key: str = Field(pattern=r"^[a-z][a-z0-9-]*$")
    name: str
    botanical: str
    density: float = Field(gt=100, lt=1500)
    tangential: float = Field(gt=0, lt=20)
    radial: float = Field(gt=0, lt=20)
    hardness: float = Field(gt=500, lt=25000)
    porosity: Porosity
    tone: Tone
    raw: str = Field(pattern=r"^#[0-9a-f]{6}$")
    oiled: str = Field(pattern=r"^#[0-9a-f]{6}$")
    ring: float = Field(ge=0, le=1)
    spacing: float = Field(gt=0.2, lt=15)
    source: str
    cautions: tuple[Caution, ...] = ()
    look: str = Field("", pattern=r"^[0-9a-f]{0,32}$")

    def colour(self, finish: str) -> str:
        """The face colour for a ``finish`` of ``"raw"`` or ``"oiled"``."""
        return self.oiled if finish == "oiled" else self.raw
