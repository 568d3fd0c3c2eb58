"""Herring Barrel: staves of an old barrel cut short, so that little is lost to their curve."""

from __future__ import annotations

from typing import Any

from laberinto.core.plan.model import FORMAT, VERSION, Plan, read_plan

RADIUS, LENGTH = 1760.0, 290.0


def _panel(name: str, mark: int) -> list[dict[str, Any]]:
    """Four staves flat, with straight edges, glued, and cut into slices."""
    staves = [{"wood": "oak", "width": 95, "count": 4, "mark": mark, "sawn": "quarter"}]
    return [
        {
            "id": f"staves-{name}", "kind": "mill", "stock": "stave", "radius": RADIUS, "thickness": 27,
            "length": LENGTH, "strips": staves,
        },
        {
            "id": f"flat-{name}", "kind": "flatten", "from": f"staves-{name}", "to": 20, "level": True,
            "method": "drum-sander",
        },
        {"id": f"straight-{name}", "kind": "joint", "from": f"flat-{name}", "edges": "left-right", "off": 2},
        {"id": f"panel-{name}", "kind": "glue", "from": f"straight-{name}"},
        {
            "id": f"slices-{name}", "kind": "crosscut", "from": f"panel-{name}", "slice": 40, "count": 5,
            "squaring": 5,
        },
    ]  # fmt: skip


def herring_barrel() -> Plan:
    """Ten rows from two panels of four staves each, the second panel's laid a third of a stave aside."""
    stages: list[dict[str, Any]] = [
        *_panel("a", 1),
        *_panel("b", 5),
        {
            "id": "rows",
            "kind": "arrange",
            "from": "slices-a",
            "also": ["slices-b"],
            "rule": "flip-every-other",
            "panels": "alternate",
        },
        {"id": "board", "kind": "glue", "from": "rows", "across": "length", "shifts": [0, 30], "clamp_hours": 24},
        {"id": "board-flat", "kind": "flatten", "from": "board", "each_face": 2, "method": "drum-sander"},
        {"id": "trimmed", "kind": "trim", "from": "board-flat", "edge": 2, "flush": True},
        {"id": "eased", "kind": "ease", "from": "trimmed", "size": 2},
        {"id": "sanded", "kind": "sand", "from": "eased"},
        {"id": "oiled", "kind": "oil", "from": "sanded"},
    ]
    return read_plan({"format": FORMAT, "version": VERSION, "name": "Herring Barrel", "stages": stages})
