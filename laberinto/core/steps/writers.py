"""How each kind of stage reads as steps at the bench: one function a kind, one line each in ``WRITERS``."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from ..extensions import Registry
from ..stages import (
    Arrange,
    Beside,
    Border,
    Cove,
    Crosscut,
    Ease,
    Feet,
    Fill,
    Flatten,
    Glue,
    Groove,
    Hollow,
    Inlay,
    JointEdge,
    Mill,
    Notch,
    Oil,
    Profile,
    Rabbet,
    Resaw,
    Rest,
    Rip,
    Sand,
    Shape,
    Skipped,
    Stage,
    Trim,
    Turned,
    Wax,
    Well,
)
from . import finishing, glueing, milling, planing, sawing, shaping
from .model import Context, Step

Writer = Callable[[Context], Iterator[Step]]

_OURS: dict[type[Stage], Writer] = {
    Mill: milling.mill, Glue: glueing.glue, Arrange: glueing.arrange, Turned: glueing.turn, Beside: glueing.beside,
    Rip: sawing.rip, Resaw: sawing.rip, Crosscut: sawing.crosscut, Profile: sawing.section,
    Flatten: planing.flatten, JointEdge: planing.joint_edge, Trim: planing.trim,
    Border: shaping.border, Inlay: shaping.inlay, Shape: shaping.shape, Rabbet: shaping.rabbet, Cove: shaping.cove,
    Notch: shaping.notch, Groove: shaping.groove, Well: shaping.well, Hollow: shaping.hollow, Feet: shaping.feet,
    Ease: shaping.ease, Rest: finishing.rest, Fill: finishing.fill, Sand: finishing.sand, Oil: finishing.oil,
    Wax: finishing.wax, Skipped: lambda _context: iter(()),
}  # fmt: skip

WRITERS: Registry[Writer] = Registry(
    "steps", {kind.model_fields["kind"].default: write for kind, write in _OURS.items()}
)
"""What writes the steps of a stage, by its kind."""
