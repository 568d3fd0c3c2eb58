"""Ladder: bricks of pear laid in bond between rows of sycamore, from two panels whose slices take turns."""

from __future__ import annotations

from laberinto.core.plan.model import Plan, read_plan

BRICK, MORTAR, ROW = 48.0, 6.0, 30.0


def ladder(bond: float = 0.5) -> Plan:
    """The plan with every other course of bricks shifted by a share of the pitch; 0 stacks them."""
    pitch = BRICK + MORTAR
    bricks = [
        {"wood": "pear" if i % 2 == 0 else "sycamore", "width": BRICK if i % 2 == 0 else MORTAR} for i in range(13)
    ]
    length = 13 * 45 + 5 + 40
    return read_plan(
        {
            "format": "laberinto-plan", "version": 1, "name": "Ladder", "wanted": {"width": 320, "thickness": 38},
            "stages": [
                {"id": "bricks", "kind": "mill", "thickness": ROW + 2, "length": length, "strips": bricks},
                {"id": "brick-panel", "kind": "glue", "from": "bricks"},
                {"id": "brick-flat", "kind": "flatten", "from": "brick-panel", "to": ROW, "method": "drum-sander"},
                {"id": "brick-slices", "kind": "crosscut", "from": "brick-flat", "slice": 42, "count": 11},
                {
                    "id": "mortar", "kind": "mill", "thickness": MORTAR, "length": length,
                    "strips": [{"wood": "sycamore", "width": 62, "count": 6}],
                },
                {"id": "mortar-panel", "kind": "glue", "from": "mortar"},
                {"id": "mortar-slices", "kind": "crosscut", "from": "mortar-panel", "slice": 42, "count": 10},
                {
                    "id": "rows", "kind": "arrange", "from": "brick-slices", "with": ["mortar-slices"],
                    "rule": "as-cut", "panels": "alternate",
                },
                {
                    "id": "board", "kind": "glue", "from": "rows", "across": "length", "clamp_hours": 24,
                    "shifts": [0, -bond * pitch / 2, bond * pitch, -bond * pitch / 2] if bond else [],
                },
                {"id": "board-flat", "kind": "flatten", "from": "board", "to": 38, "method": "router-sled"},
                {"id": "trimmed", "kind": "trim", "from": "board-flat", "edge": 1, "flush": True},
                {"id": "eased", "kind": "ease", "from": "trimmed", "size": 2.5, "form": "round-over"},
                {"id": "sanded", "kind": "sand", "from": "eased"},
                {"id": "oiled", "kind": "oil", "from": "sanded", "rounds": 3},
            ],
        }
    )  # fmt: skip
