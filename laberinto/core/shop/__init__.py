"""The shop: what machines, clamps and habits there are, from which every plan takes its defaults."""

from .model import GROUPS, Shop
from .schools import SCHOOLS, School

__all__ = ["GROUPS", "SCHOOLS", "School", "Shop"]
