"""The server's manners: what it holds for good is not looked through again each time garbage is collected, and threads
take turns soon."""

from __future__ import annotations

import gc
import sys

THRESHOLDS = (20_000, 20, 20)
"""Allocations before the youngest are collected, and how many such rounds before older ones are: an edit makes tens of
thousands of short-lived objects, and with Python's own numbers a fifth of its time went into looking for garbage."""

TURN = 0.001
"""How long one thread may hold up the others, s. Cutting gives way at every array; with Python's own number a page that
is being drawn beside it would hold it up five times as long each time."""


def set_aside() -> None:
    """Take everything that is there now, the modules above all, as staying."""
    sys.setswitchinterval(TURN)
    gc.collect()
    gc.freeze()
    gc.set_threshold(*THRESHOLDS)
