"""Rows that need not be told apart, and sets of them that share a panel."""

from __future__ import annotations

from dataclasses import dataclass

from ..solid import Ints


@dataclass(frozen=True, slots=True)
class Kind:
    """Rows that need not be told apart: letters as numbers (c,), which rows, their height, the columns to keep."""

    letters: Ints
    rows: tuple[int, ...]
    height: float
    kept: frozenset[int]


@dataclass(frozen=True, slots=True)
class Cluster:
    """Kinds that share a panel: which, each flipped or not, the panel's letters (c,), and how many cells change."""

    members: tuple[int, ...]
    flipped: tuple[bool, ...]
    panel: Ints
    cost: int
