"""Reckoners: small sums of the bench, each with its formula. One theme a module, one line a reckoner here."""

from ..extensions import Registry
from .amounts import BatchTime, GlueByArea, GrooveCapacity, Volume, WaxMix
from .angles import Arc, FiveCuts, Mitre, Skew, Stave, Turntable
from .into import Into, given, places
from .model import Reckoner, Result

RECKONERS: Registry[type[Reckoner]] = Registry(
    "reckoners",
    {
        one.key: one
        for one in (
            FiveCuts, Arc, Stave, Skew, Mitre, Volume, BatchTime, WaxMix, GrooveCapacity, Turntable, GlueByArea,
        )
    },
)  # fmt: skip
"""Every reckoner by its key, in the order they are shown; those of other packages last."""

__all__ = ["RECKONERS", "Into", "Reckoner", "Result", "given", "places"]
