"""Pattern families: few honest parameters in, a whole plan out. One family, one module, one line here."""

from .alternating import Alternating

FAMILIES = {"alternating": Alternating}

__all__ = ["FAMILIES", "Alternating"]
