"""Pattern families: few honest parameters in, a whole plan out. One family, one module, one line here."""

from ..extensions import Registry
from .along import Along
from .alternating import Alternating
from .bands import Bands
from .blocks import MitredBlocks
from .brick import Brick
from .chaos import Chaos
from .chevron import MitredChevron
from .crossing import CrossingWeave
from .diamonds import Diamonds
from .framed import Framed
from .hollowed import Hollowed
from .layered import LayeredDiamonds
from .model import Family, Truth
from .nested import Nested
from .picture import Pictured
from .rings import RingChevron
from .round import Round
from .slab import FramedSlab
from .stairs import Stairs
from .tumbling import Tumbling
from .weave import Weave
from .zigzag import Zigzag

FAMILIES: Registry[type[Family]] = Registry(
    "patterns",
    {
        family.key: family
        for family in (
            Alternating, Bands, RingChevron, Brick, Stairs, MitredBlocks, Tumbling, Weave, CrossingWeave,
            Diamonds, LayeredDiamonds, Nested, MitredChevron, Zigzag, Chaos, Framed, FramedSlab, Round, Hollowed, Along,
            Pictured,
        )
    },
)  # fmt: skip
"""Every family by its key, in the order the gallery shows them; those of other packages last."""

__all__ = ["FAMILIES", "Alternating", "Family", "Truth"]
