"""Stage kinds. A new kind is one module here and one line in ``AnyStage``."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .arrange import Arrange, Panels, Rule
from .base import LEDGER, Bench, Cause, Outcome, Pieces, Stage
from .beside import Beside
from .border import Border
from .carving import Carving
from .crosscut import Crosscut
from .ease import Ease
from .edges import Cove, Notch, Rabbet
from .feet import Feet
from .finish import Oil, OilKind, Sand, Skipped, Wax
from .flatten import Flatten, Method
from .glue import Across, Glue
from .gluing import Gluing, Spread
from .groove import Groove
from .hollow import Hollow
from .inlay import Inlay
from .joint import JointEdge
from .mill import Mill, StripSpec
from .pause import Fill, Rest
from .profile import Profile, Section
from .rip import Resaw, Rip, Sawing
from .shape import Shape
from .stock import MILLED, Stock, StockForm
from .trim import Trim
from .turn import Turned
from .well import Well

AnyStage = Annotated[
    Mill
    | Glue
    | Flatten
    | JointEdge
    | Rip
    | Crosscut
    | Resaw
    | Profile
    | Turned
    | Beside
    | Arrange
    | Trim
    | Border
    | Inlay
    | Shape
    | Rabbet
    | Cove
    | Notch
    | Groove
    | Well
    | Hollow
    | Ease
    | Feet
    | Rest
    | Fill
    | Sand
    | Oil
    | Wax,
    Field(discriminator="kind"),
]
"""The registry: every kind of stage a plan may hold, told apart by its ``kind``."""

__all__ = [
    "LEDGER", "MILLED", "Across", "AnyStage", "Arrange", "Bench", "Beside", "Border", "Carving", "Cause", "Cove",
    "Crosscut", "Ease", "Feet", "Fill", "Flatten", "Glue", "Gluing", "Groove", "Hollow", "Inlay", "JointEdge",
    "Method", "Mill", "Notch", "Oil", "OilKind", "Outcome", "Panels", "Pieces", "Profile", "Rabbet", "Resaw",
    "Rest", "Rip", "Rule", "Sand", "Sawing", "Section", "Shape", "Skipped", "Spread", "Stage", "Stock", "StockForm",
    "StripSpec", "Trim", "Turned", "Wax", "Well",
]  # fmt: skip
