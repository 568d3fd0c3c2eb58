"""As built: what was measured is cut into the plan, and the ways out of what comes of it are acted out."""

from .measured import MEASURED, SAID, Quantity, measure, quantities
from .ways import WAYS, Situation, Way, WayOut, ways_out

__all__ = ["MEASURED", "SAID", "WAYS", "Quantity", "Situation", "Way", "WayOut", "measure", "quantities", "ways_out"]
