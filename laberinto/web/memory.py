"""The server's memory: what it holds for good is not looked through again each time garbage is collected."""

from __future__ import annotations

import gc

THRESHOLDS = (20_000, 20, 20)
"""Allocations before the youngest are collected, and how many such rounds before older ones are: an edit makes tens of
thousands of short-lived objects, and with Python's own numbers a fifth of its time went into looking for garbage."""


def set_aside() -> None:
    """Take everything that is there now, the modules above all, as staying."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(*THRESHOLDS)
