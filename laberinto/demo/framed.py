"""Shoal: a framed board with all that a router can do to one, for the demo."""

from __future__ import annotations

from typing import Any

from laberinto.core.plan.model import FORMAT, VERSION, Plan, read_plan


def shoal() -> Plan:
    """A core of sycamore and pear, framed in plum; coves, a groove that drains into a well, round edges, feet."""
    core = [{"wood": wood, "width": 30} for wood in ("sycamore", "pear") * 4]
    stages: list[dict[str, Any]] = [
        {"id": "strips", "kind": "mill", "thickness": 33, "length": 490, "strips": core},
        {"id": "panel", "kind": "glue", "from": "strips"},
        {"id": "panel-flat", "kind": "flatten", "from": "panel", "to": 30},
        {"id": "slices", "kind": "crosscut", "from": "panel-flat", "slice": 45, "count": 9, "squaring": 5},
        {"id": "rows", "kind": "arrange", "from": "slices", "rule": "flip-every-other"},
        {"id": "core", "kind": "glue", "from": "rows", "across": "length"},
        {"id": "rest", "kind": "rest", "from": "core", "days": 3},
        {"id": "core-true", "kind": "trim", "from": "rest", "edge": 3},
        {
            "id": "frame-stock", "kind": "mill", "thickness": 35, "length": 660,
            "strips": [{"wood": "plum", "width": 65, "sawn": "quarter", "mark": 11, "count": 2}],
        },
        {"id": "frame-panel", "kind": "glue", "from": "frame-stock"},
        {"id": "frame-slices", "kind": "crosscut", "from": "frame-panel", "slice": 45, "count": 12, "squaring": 5},
        {"id": "frame", "kind": "turn", "from": "frame-slices", "turns": ["stand up"]},
        {"id": "framed", "kind": "border", "from": "core-true", "with": ["frame"]},
        {"id": "board-flat", "kind": "flatten", "from": "framed", "to": 40, "method": "router-sled"},
        {"id": "trimmed", "kind": "trim", "from": "board-flat", "edge": 2},
        {"id": "coves", "kind": "cove", "from": "trimmed", "length": 110, "radius": 9.5, "depth": 9},
        {
            "id": "groove", "kind": "groove", "from": "coves", "inset": 18, "width": 10, "depth": 5,
            "corners": "outside-template", "corner_radius": 18,
        },
        {
            "id": "well", "kind": "well", "from": "groove", "width": 70, "length": 46, "radius": 8, "depth": 9,
            "inset": 13,
        },
        {"id": "corners", "kind": "shape", "from": "well", "radius": 14},
        {"id": "eased", "kind": "ease", "from": "corners", "form": "round-over", "size": 4},
        {"id": "feet", "kind": "feet", "from": "eased", "inset": 32},
        {"id": "filled", "kind": "fill", "from": "feet", "filler": "paste"},
        {"id": "sanded", "kind": "sand", "from": "filled"},
        {"id": "oiled", "kind": "oil", "from": "sanded"},
        {"id": "waxed", "kind": "wax", "from": "oiled"},
    ]  # fmt: skip
    return read_plan({"format": FORMAT, "version": VERSION, "name": "Shoal", "stages": stages})
