"""CNC: which stages a machine does, with which tools, as G-code; and the simulated machine that carves them."""

from . import carving, routes
from .blueprint import bp

__all__ = ["bp", "carving", "routes"]
