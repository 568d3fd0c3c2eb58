"""Tidewrack: a chaos board from what lay about, three woods ripped and shuffled twice, once at a slant."""

from __future__ import annotations

from laberinto.core.plan.model import Plan, read_plan


def tidewrack() -> Plan:
    """The plan of the raffle prize."""
    woods = ("sycamore", "pear", "bog-oak", "sycamore", "elm", "pear")
    strips = [{"wood": woods[i % 6], "width": (28, 34, 22, 30, 26)[i % 5]} for i in range(16)]
    roll = ["as it lies", "quarter roll", "face over", "end for end", "three-quarter roll"]
    widths = [31, 24, 34, 27, 33, 22, 36, 29, 26, 34, 31, 25]
    return read_plan(
        {
            "format": "laberinto-plan",
            "version": 1,
            "name": "Tidewrack",
            "stages": [
                {"id": "strips", "kind": "mill", "thickness": 36, "length": 700, "strips": strips},
                {"id": "panel", "kind": "glue", "from": "strips", "shuffle": 5},
                {"id": "panel-flat", "kind": "flatten", "from": "panel", "each_face": 1, "method": "drum-sander"},
                {"id": "first-rip", "kind": "rip", "from": "panel-flat", "widths": widths},
                {"id": "second-panel", "kind": "glue", "from": "first-rip", "shuffle": 11, "turns": roll},
                {"id": "second-flat", "kind": "flatten", "from": "second-panel", "each_face": 1, "level": True},
                {"id": "slant-rip", "kind": "rip", "from": "second-flat", "width": 29, "skew": 6},
                {"id": "third-panel", "kind": "glue", "from": "slant-rip", "shuffle": 8, "turns": roll[:4:2]},
                {"id": "third-flat", "kind": "flatten", "from": "third-panel", "each_face": 1, "level": True},
                {"id": "trued", "kind": "trim", "from": "third-flat", "edge": 1, "flush": True},
                {"id": "slices", "kind": "crosscut", "from": "trued", "slice": 42, "count": 13, "squaring": 4},
                {
                    "id": "rows", "kind": "arrange", "from": "slices", "rule": "flip-every-other",
                    "order": [4, 9, 1, 12, 6, 2, 10, 7, 3, 13, 8, 5, 11],
                    "turned": {"9": "other-end-up", "6": "end-for-end", "3": "other-end-up", "8": "end-for-end"},
                },
                {"id": "board", "kind": "glue", "from": "rows", "across": "length", "clamp_hours": 24},
                {"id": "board-flat", "kind": "flatten", "from": "board", "to": 38, "method": "drum-sander"},
                {"id": "trimmed", "kind": "trim", "from": "board-flat", "edge": 3},
                {"id": "eased", "kind": "ease", "from": "trimmed", "size": 2},
                {"id": "sanded", "kind": "sand", "from": "eased"},
                {"id": "oiled", "kind": "oil", "from": "sanded", "rounds": 3},
                {"id": "waxed", "kind": "wax", "from": "oiled"},
            ],
        }
    )  # fmt: skip
