"""A shop's profile: machines with their limits, clamps, allowances and schools. Lengths in mm.

The defaults are those of a small shop; they come from general trade practice and are meant to be changed.
"""

from __future__ import annotations

import math
import re
from dataclasses import fields
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationInfo, field_validator, model_validator

from ..fields.allowances import USUAL, Allowances, saw_kerf
from ..fields.spec import Spec, choice, listed, millimetres, number, rounded, specs, text, whole
from ..units import Lengths, parse_number
from ..validation import checked
from .glues import GlueKind, pace
from .guides import CutWay, Guide, Guided
from .schools import SCHOOLS


class Shop(BaseModel):
    """What is there and how this maker works. Every field has a default, so an empty profile is a good one."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    # saws
    kerf: float = saw_kerf(help="Of the table saw's blade.")
    saw_depth: float = millimetres(80.0, label="Cuts as deep as", help="Its blade at full height.", least=20, most=300)
    sled_width: float = millimetres(
        450.0, label="Widest on the sled", help="Panel that can be crosscut.", least=100, most=2000
    )
    resaw_height: float = millimetres(200.0, label="Highest re-saw", help="Under the guides.", least=50, most=600)

    # jointer, router
    jointer_width: float = millimetres(200.0, label="Jointer width", help="Widest over it.", least=50, most=800)
    jointer_shortest: float = millimetres(
        250.0, label="Jointer, shortest", help="The machine's manual says.", least=100, most=800
    )
    bits: tuple[Annotated[float, Field(ge=0.5, le=100)], ...] = listed(
        "lengths", label="Router bits", help="Their widths. Empty: not asked about.", max_length=60
    )

    # templates
    guided: Guided = choice(Guided.BUSH, label="Along a template runs", help="The router's guide.")
    bush: float = millimetres(24.0, label="Guide bush", help="Its outside diameter.", least=6, most=80)
    guide_bit: float = millimetres(12.0, label="Straight bit", help="Used with it.", least=2, most=60)
    ruler: float = number(100.0, label="Printed size", help="Of the ruler's full length.", least=90, most=110, unit="%")

    # label sheets
    label_columns: int = whole(3, label="Labels across", help="On a sheet.", least=1, most=12)
    label_rows: int = whole(8, label="Labels down", help="On a sheet.", least=1, most=30)
    label_left: float = millimetres(0.0, label="Sheet's side margin", help="Left and right.", least=0, most=60)
    label_top: float = millimetres(0.5, label="Sheet's top margin", help="Above and below.", least=0, most=80)
    label_gap: float = millimetres(0.0, label="Gap between", help="Side by side.", least=0, most=30)
    label_gap_down: float = millimetres(0.0, label="Gap below", help="From row to row.", least=0, most=30)

    # planer and drum sander
    planer_width: float = millimetres(310.0, label="Planer width", help="Widest through.", least=100, most=1000)
    planer_shortest: float = millimetres(
        300.0, label="Planer, shortest", help="The machine's manual says.", least=100, most=800
    )
    planer_thinnest: float = millimetres(
        6.0, label="Planer, thinnest", help="Without a carrier board.", least=3, most=30
    )
    planer_bite: float = millimetres(0.8, label="Planer, a pass", help="Off at most.", least=0.05, most=4)
    planer_hair: float = millimetres(0.2, label="End grain in it", help="A pass, if at all.", least=0.05, most=1)
    planer_feed: float = number(5.0, label="Planer feeds", help="", least=0.5, most=20, unit="m/min")
    drum_width: float = millimetres(400.0, label="Drum sander width", help="Widest through.", least=100, most=1500)
    drum_shortest: float = millimetres(65.0, label="Drum, shortest", help="Between its rollers.", least=30, most=400)
    drum_thinnest: float = millimetres(2.0, label="Drum, thinnest", help="That it holds.", least=1, most=20)
    drum_bite: float = millimetres(0.4, label="Drum, a pass", help="Off at most.", least=0.05, most=3)
    drum_feed: float = number(1.5, label="Drum feeds", help="", least=0.1, most=10, unit="m/min")
    between_passes: float = number(
        0.3, label="Between passes", help="Round to the infeed.", least=0, most=5, unit="min"
    )

    # router on a sled
    sled_bit: float = millimetres(38.0, label="Surfacing bit", help="Its diameter.", least=6, most=120)
    sled_base: float = millimetres(170.0, label="Router's base", help="Between the sled's cheeks.", least=60, most=400)
    sled_step: float = millimetres(22.0, label="From track to track", help="Less than the bit.", least=2, most=110)
    sled_pass: float = millimetres(1.5, label="Router sled, a pass", help="Off at most.", least=0.1, most=6)
    sled_feed: float = number(2.0, label="Router is moved", help="Along a track.", least=0.1, most=20, unit="m/min")
    sled_lean: float = number(0.1, label="Spindle leans", help="From upright.", least=0, most=3, unit="°")

    # belt sander, hand plane, CNC router
    belt_minutes: float = number(
        1.2, label="Belt sander", help="In end grain, for each mm off.", least=0.05, most=30, unit="min a dm²"
    )
    plane_iron: float = millimetres(45.0, label="Plane's iron", help="Its width.", least=10, most=80)
    plane_shaving: float = millimetres(0.08, label="A shaving", help="In end grain.", least=0.01, most=0.5)
    plane_strokes: float = number(20, label="Strokes", help="With sharpening.", least=1, most=60, unit="a min")
    cnc_bit: float = millimetres(25.0, label="CNC cutter", help="Its diameter.", least=3, most=120)
    cnc_step: float = millimetres(15.0, label="CNC, from track to track", help="Its stepover.", least=1, most=110)
    cnc_pass: float = millimetres(1.0, label="CNC, a pass", help="Off at most.", least=0.1, most=10)
    cnc_feed: float = number(2.5, label="CNC feeds", help="Along a track.", least=0.1, most=20, unit="m/min")
    cnc_lean: float = number(0.05, label="CNC spindle leans", help="From upright.", least=0, most=3, unit="°")
    cnc_spindle: int = whole(18000, label="Spindle", help="Turns a minute.", least=1000, most=40000)
    cnc_way: CutWay = choice(CutWay.CLIMB, label="It cuts", help="Against or with its turning.")
    cnc_tabs: int = whole(4, label="Tabs", help="That hold an outline.", least=0, most=24)
    cnc_x: float = millimetres(600.0, label="Travel, left to right", help="Over the board.", least=50, most=4000)
    cnc_y: float = millimetres(600.0, label="Travel, front to back", help="Over the board.", least=50, most=4000)
    cnc_acceleration: float = number(
        400, label="It speeds up by", help="Its settings say.", least=20, most=10000, unit="mm/s²"
    )

    # clamps and glue
    clamps: int = whole(12, label="Clamps", help="That can be on at once.", least=1, most=200)
    clamp_reach: float = millimetres(
        600.0, label="Clamps open to", help="The longest that there are enough of.", least=100, most=3000
    )
    long_clamps: int = whole(0, label="Long clamps", help="Beside those.", least=0, most=200)
    long_reach: float = millimetres(1200.0, label="These open to", help="The long ones.", least=100, most=5000)
    clamp_spacing: float = millimetres(175.0, label="One clamp every", help="Along a joint.", least=80, most=400)
    clamp_force: float = number(5.0, label="A clamp gives", help="Turned firmly.", least=0.3, most=60, unit="kN")
    pressure: float = number(
        0.7, label="Pressure on a joint", help="Dense woods want half as much again.", least=0.1, most=3, unit="N/mm²"
    )
    glue: GlueKind = choice(GlueKind.PVA, label="Glue", help="Its label has the last word.")
    open_time: float = number(10, label="Open time", help="As its label says.", least=2, most=60, unit="min")
    closed_time: float = number(
        15, label="Pressure on within", help="Closed time, as it says.", least=2, most=180, unit="min"
    )
    air: float = number(20, label="Air when you glue", help="Warmth shortens it.", least=-5, most=45, unit="°C")
    air_damp: float = number(50, label="Its humidity", help="Dry air does, too.", least=10, most=95, unit="%")
    seconds_per_joint: float = number(20, label="A joint takes", help="To spread and set.", least=5, most=300, unit="s")

    # calendar
    hands: int = whole(1, label="Pairs of hands", help="That work at once.", least=1, most=6)
    bench_room: int = whole(4, label="Room for glue-ups", help="That stand clamped at once.", least=1, most=40)
    trips: int = whole(3, label="Times out to it", help="In a day, at most.", least=1, most=6)

    # allowances
    flatten_panel: float = millimetres(
        USUAL.flatten_panel, label="Flattening a panel", help="Off each face.", least=0.2, most=6
    )
    flatten_board: float = millimetres(
        USUAL.flatten_board, label="Flattening end grain", help="Off each face.", least=0.2, most=6
    )
    squaring: float = millimetres(USUAL.squaring, label="Squaring cut", help="Kerf included.", least=0, most=50)
    edge: float = millimetres(USUAL.edge, label="Trimming", help="Off each edge.", least=0, most=30)
    rough_length: float = millimetres(
        USUAL.rough_length, label="Rough length", help="Over the finished.", least=0, most=200
    )
    snipe: float = millimetres(0.0, label="Snipe", help="The planer's, off each end.", least=0, most=200)
    rough_width: float = millimetres(
        USUAL.rough_width, label="Rough width", help="Over the finished.", least=0, most=50
    )
    rough_thickness: float = millimetres(
        USUAL.rough_thickness, label="Rough thickness", help="Over the finished.", least=0, most=50
    )

    # timber
    end_trim: float = millimetres(20.0, label="Plank ends", help="Cut off each.", least=0, most=200)
    edge_trim: float = millimetres(4.0, label="Plank edges", help="Jointed off each.", least=0, most=50)
    keep_length: float = millimetres(200.0, label="Offcuts from", help="Length worth keeping.", least=20, most=2000)
    keep_width: float = millimetres(30.0, label="and from", help="Width worth keeping.", least=5, most=500)

    # money
    currency: str = text("€", label="Money", help="Its sign.")
    rate: float = number(38, label="An hour", help="Of your work.", least=0, most=1000)
    margin: float = number(20, label="Margin", help="On what it costs.", least=0, most=500, unit="%")
    wood_price: float = number(3.0, label="Wood", help="Where no lot has a price.", least=0, most=500, unit="a litre")
    glue_price: float = number(11, label="Glue", help="", least=0, most=500, unit="a kg")
    abrasive_price: float = number(0.15, label="Abrasives", help="For each grit.", least=0, most=50, unit="a dm²")
    finish_price: float = number(26, label="Oil and wax", help="", least=0, most=500, unit="a litre of it")

    # times
    minutes_strip: float = number(4, label="A strip", help="Jointed, planed and ripped.", least=0, most=120, unit="min")
    minutes_cut: float = number(1.5, label="A saw cut", help="With setting it up.", least=0, most=60, unit="min")
    minutes_glue_up: float = number(
        25, label="A glue-up", help="Dry fit, clamps, scraping.", least=0, most=600, unit="min"
    )
    minutes_flatten: float = number(12, label="Flattening", help="Beside its passes.", least=0, most=600, unit="min")
    minutes_shape: float = number(15, label="Shaping", help="Each kind of it.", least=0, most=600, unit="min")
    minutes_grit: float = number(0.5, label="Sanding", help="For each grit.", least=0, most=60, unit="min a dm²")
    minutes_coat: float = number(12, label="A coat", help="Of oil or wax.", least=0, most=600, unit="min")

    # abrasives and finish
    sheet_lasts: float = number(6, label="A sheet or disc", help="Lasts for.", least=0.2, most=200, unit="dm²")
    soak: float = number(20, label="Oil soaks", help="Before it is wiped.", least=1, most=1440, unit="min")
    jar: float = number(200, label="Jar of wax paste", help="As you mix it.", least=20, most=5000, unit="g")

    # the mark on a finished board
    maker: str = text("", label="Maker's mark", help="Burned or engraved into a finished board.")
    capital: float = millimetres(6.0, label="Its capitals", help="How high.", least=2, most=60)

    # air
    dry: float = number(35, label="Driest air", help="In the heating months.", least=5, most=90, unit="%")
    damp: float = number(65, label="Dampest air", help="In summer, or by the sea.", least=10, most=95, unit="%")

    # schools
    end_grain_planing: str = text("never", label="End grain in the planer")
    same_wood: str = text("allowed", label="One wood against itself")
    last_grit: str = text("220", label="Last grit")
    raise_grain: str = text("once", label="Raising the grain")
    finish: str = text("mineral", label="Finish")
    after_oil: str = text("wax", label="After the oil")
    tear_out: str = text("strip", label="Against tear-out")
    slicing_saw: str = text("sled", label="Slicing saw")
    spread: str = text("both", label="Glue on")
    feet: str = text("none", label="Feet")

    @field_validator("bits", mode="before")
    @classmethod
    def _typed(cls, value: Any) -> Any:
        """A profile kept by an earlier version has the widths as typed, in mm."""
        return tuple(map(parse_number, re.split(r"[;\s]+|,\s", value.strip()))) if isinstance(value, str) else value

    @field_validator("guide_bit")
    @classmethod
    def _goes_through(cls, value: float, info: ValidationInfo) -> float:
        bush = info.data.get("bush", value)
        if info.data.get("guided") is Guided.BUSH and not Guide(Guided.BUSH, bush, value).passes(value):
            raise ValueError("the straight bit must go through the guide bush: take a narrower bit or a wider bush")
        return value

    @model_validator(mode="after")
    def _known(self) -> Self:
        for field, school in SCHOOLS.items():
            if getattr(self, field) not in school.answers:
                raise ValueError(f"{school.question} The answers are {', '.join(school.answers)}.")
        if self.damp <= self.dry:
            raise ValueError("the dampest air must be damper than the driest")
        return self

    @classmethod
    def of(cls, **values: Any) -> Shop:
        """A shop from plain values; raises InputError naming the field that is wrong."""
        return checked(cls, values, fallback="damp")

    @classmethod
    def usual(cls, lengths: Lengths) -> Self:
        """A small shop as a maker who reads lengths so would have it: machines of whole inches, allowances of plain
        fractions, round prices."""
        made = cls()
        values = {name: rounded(spec, getattr(made, name), lengths, coarse=True) for name, spec in cls.specs().items()}
        return cls(**values)

    @classmethod
    def specs(cls) -> dict[str, Spec]:
        """Its fields by name."""
        return {spec.name: spec for spec in specs(cls)}

    @property
    def guide(self) -> Guide:
        """What leads a router along a template."""
        return Guide(self.guided, self.bush, self.guide_bit)

    @property
    def allowances(self) -> Allowances:
        """What its machines take; whatever cuts or flattens reads it here."""
        return Allowances(**{field.name: getattr(self, field.name) for field in fields(Allowances)})

    def for_a_pattern(self) -> dict[str, Any]:
        """What a pattern takes over: kerfs, cuts and flattening, and the schools that shape a plan."""
        names = (
            "kerf", "squaring", "flatten_panel", "flatten_board", "edge", "planer_shortest", "last_grit", "spread",
            "feet", "raise_grain", "finish",
        )  # fmt: skip
        return {name: getattr(self, name) for name in names}

    @property
    def rough(self) -> tuple[float, float, float]:
        """Oversize in length, width and thickness when wood is cut rough, mm."""
        return self.rough_length + 2 * self.snipe, self.rough_width, self.rough_thickness

    def joints_in_open_time(self) -> int:
        """How many joints can be spread and set before the glue skins: open time in this air ÷ seconds for each."""
        return max(int(self.open_now * 60 // self.seconds_per_joint), 1)

    @property
    def open_now(self) -> float:
        """Minutes that the glue is open in the air there is."""
        return self.open_time * pace(self.glue, self.air, self.air_damp)

    @property
    def closed_now(self) -> float:
        """Minutes until pressure must be on, in the air there is."""
        return self.closed_time * pace(self.glue, self.air, self.air_damp)

    def clamps_that_open_to(self, width: float) -> tuple[int, float]:
        """How many clamps reach over a glue-up of this width, and how far those open, mm; where none does, how many
        there are and the farthest that any opens."""
        if self.long_clamps and self.long_reach > self.clamp_reach:
            if width <= self.clamp_reach:
                return self.clamps + self.long_clamps, self.clamp_reach
            return self.long_clamps, self.long_reach
        return self.clamps, self.clamp_reach

    def clamps_for(self, length: float, area: float = 0.0) -> int:
        """Clamps for a joint so long (mm) and so large (mm²): one every so often and one more, and as many as press it
        as it should be."""
        return max(int(length // self.clamp_spacing) + 1, self.clamps_to_press(area))

    def clamps_to_press(self, area: float) -> int:
        """Clamps that give a joint of so many mm² its pressure."""
        return math.ceil(round(self.pressure * area / (1000 * self.clamp_force), 6))


GROUPS: dict[str, tuple[str, ...]] = {
    "Saws": ("kerf", "saw_depth", "sled_width", "resaw_height"),
    "Jointer and router": ("jointer_width", "jointer_shortest", "bits"),
    "Templates": ("guided", "bush", "guide_bit", "ruler"),
    "Label sheets": ("label_columns", "label_rows", "label_left", "label_top", "label_gap", "label_gap_down"),
    "Planer and drum sander": (
        "planer_width", "planer_shortest", "planer_thinnest", "drum_width", "drum_shortest",
        "drum_thinnest", "planer_bite", "planer_hair", "planer_feed", "drum_bite", "drum_feed", "between_passes",
    ),
    "Router on a sled": ("sled_bit", "sled_base", "sled_step", "sled_pass", "sled_feed", "sled_lean"),
    "Belt sander and hand plane": ("belt_minutes", "plane_iron", "plane_shaving", "plane_strokes"),
    "CNC router": (
        "cnc_bit", "cnc_step", "cnc_pass", "cnc_feed", "cnc_lean", "cnc_spindle", "cnc_way", "cnc_tabs", "cnc_x",
        "cnc_y", "cnc_acceleration",
    ),
    "Clamps and glue": (
        "clamps", "clamp_reach", "long_clamps", "long_reach", "clamp_spacing", "clamp_force", "pressure",
        "seconds_per_joint", "glue", "open_time", "closed_time", "air", "air_damp",
    ),
    "Calendar": ("hands", "bench_room", "trips"),
    "Allowances": (
        "flatten_panel", "flatten_board", "squaring", "edge", "rough_length", "snipe", "rough_width", "rough_thickness",
    ),
    "Timber": ("end_trim", "edge_trim", "keep_length", "keep_width"),
    "Maker's mark": ("maker", "capital"),
    "Air": ("dry", "damp"),
    "Money": (
        "currency", "rate", "margin", "wood_price", "glue_price", "abrasive_price", "finish_price",
    ),
    "Times": (
        "minutes_strip", "minutes_cut", "minutes_glue_up", "minutes_flatten", "minutes_shape", "minutes_grit",
        "minutes_coat",
    ),
    "Abrasives and finish": ("sheet_lasts", "soak", "jar"),
}  # fmt: skip
"""The fields under their headings; schools have a list of their own."""
