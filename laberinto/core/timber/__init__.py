"""Timber: what lies in the store, what a board asks of it, and how one is cut from the other."""

from .model import Defect, Lot, LotKind
from .needs import Need, needs

__all__ = ["Defect", "Lot", "LotKind", "Need", "needs"]
