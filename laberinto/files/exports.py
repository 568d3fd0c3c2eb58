"""What a board can be written as, each format in a line of ``EXPORTS``."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from laberinto.core.errors import InputError
from laberinto.core.extensions import Registry
from laberinto.core.plan.simulate import Simulation
from laberinto.drawing.raster import png

from .dxf import face_dxf
from .face import face_svg
from .mesh import write_3mf, write_glb, write_stl, write_stl_by_wood
from .report import report


@dataclass(frozen=True, slots=True)
class Export:
    """A format: what it is in words, the ending of its files, what it is good for, and what writes the finished board
    into one."""

    title: str
    suffix: str
    use: str
    write: Callable[[Simulation, Path], None]


EXPORTS: Registry[Export] = Registry(
    "exports",
    {
        "png": Export(
            "the face as a picture", ".png", "To send to someone, or to put beside a price.",
            lambda sim, path: _bytes(path, png(sim)),
        ),
        "plan": Export(
            "the plan, as JSON", ".json", "Everything it takes to open this board in another shop.",
            lambda sim, path: _text(path, sim.plan.as_json(1)),
        ),
        "svg": Export(
            "the face, in mm", ".svg", "True to size, a group for each wood in its colour.",
            lambda sim, path: _text(path, face_svg(sim)),
        ),
        "laser": Export(
            "the face as hairlines, in mm", ".laser.svg", "True to size, nothing filled, for a laser to follow.",
            lambda sim, path: _text(path, face_svg(sim, laser=True)),
        ),
        "dxf": Export(
            "the face as outlines, in mm", ".dxf", "Closed lines, a layer for each wood.",
            lambda sim, path: _bytes(path, face_dxf(sim)),
        ),
        "stl": Export(
            "one closed solid, in mm", ".stl", "For a slicer, or a program that cuts paths.",
            lambda sim, path: write_stl(sim.whole(), path),
        ),
        "stl-woods": Export(
            "a closed solid for each wood, in mm", ".stl.zip", "To print it in colours, or to cut one wood alone.",
            lambda sim, path: write_stl_by_wood(sim, sim.whole(), path),
        ),
        "3mf": Export(
            "an object for each wood, in mm", ".3mf", "For a slicer that knows parts.",
            lambda sim, path: write_3mf(sim, sim.whole(), path),
        ),
        "glb": Export(
            "a solid for each wood, in metres", ".glb", "To turn it in a viewer, in its colours.",
            lambda sim, path: write_glb(sim, sim.whole(), path),
        ),
        "report": Export(
            "every piece and joint of every stage, as JSON", ".report.json", "For your own reckoning.",
            lambda sim, path: _text(path, report(sim).model_dump_json(indent=1)),
        ),
    },
)  # fmt: skip
"""Every format by the name it is asked for by."""


def _bytes(path: Path, data: bytes) -> None:
    path.write_bytes(data)


def _text(path: Path, text: str) -> None:
    path.write_text(text + "\n")


def export_for(path: Path, name: str | None = None) -> Export:
    """The format of that name, or whose ending the file has. Raises InputError where there is none."""
    known = ", ".join(f"{key} ({each.suffix})" for key, each in EXPORTS.items())
    if name is not None:
        if name not in EXPORTS:
            raise InputError(f"There is no format “{name}”; there are {known}.", "format")
        return EXPORTS[name]
    fitting = [each for each in EXPORTS.values() if path.name.lower().endswith(each.suffix)]
    if not fitting:
        raise InputError(f"“{path.name}” ends like no format; there are {known}.", "file")
    return max(fitting, key=lambda each: len(each.suffix))
