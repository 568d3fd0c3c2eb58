"""Where boards are kept: SQLite through SQLModel. The only place that knows SQL."""

from .boards import VARIANTS, BoardView, StaleError, Store
from .builds import Build, NoteView
from .database import open_database
from .timber import CutView, LotView, ShortageError, Timber

__all__ = [
    "VARIANTS",
    "BoardView",
    "Build",
    "CutView",
    "LotView",
    "NoteView",
    "ShortageError",
    "StaleError",
    "Store",
    "Timber",
    "open_database",
]
