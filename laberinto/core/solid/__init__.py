"""The cutting kernel: convex cells, planes that split them, and what may be asked of them."""

from .cells import ON_PLANE, Bools, Cells, Floats, Ints, boxes, empty, join
from .saw import Cut, saw
from .split import Plane, split

__all__ = ["ON_PLANE", "Bools", "Cells", "Cut", "Floats", "Ints", "Plane", "boxes", "empty", "join", "saw", "split"]
