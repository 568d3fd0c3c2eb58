"""Stage kinds. A new kind is one module here and one line in ``AnyStage``."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .arrange import Arrange, Rule
from .base import LEDGER, Bench, Cause, Outcome, Pieces, Stage
from .crosscut import Crosscut
from .ease import Ease
from .fields import Spec, specs
from .finish import Oil, OilKind, Sand, Wax
from .flatten import Flatten, Method
from .glue import Across, Glue, Spread
from .mill import Mill, StripSpec
from .profile import Profile, Section
from .rip import Resaw, Rip, Sawing
from .trim import Trim
from .turn import Turned

AnyStage = Annotated[
    Mill | Glue | Flatten | Rip | Crosscut | Resaw | Profile | Turned | Arrange | Trim | Ease | Sand | Oil | Wax,
    Field(discriminator="kind"),
]
"""The registry: every kind of stage a plan may hold, told apart by its ``kind``."""

__all__ = [
    "LEDGER", "Across", "AnyStage", "Arrange", "Bench", "Cause", "Crosscut", "Ease", "Flatten", "Glue", "Method",
    "Mill", "Oil", "OilKind", "Outcome", "Pieces", "Profile", "Resaw", "Rip", "Rule", "Sand", "Sawing", "Section",
    "Spec", "Spread", "Stage", "StripSpec", "Trim", "Turned", "Wax", "specs",
]  # fmt: skip
