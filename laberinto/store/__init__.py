"""Where boards are kept: SQLite through SQLModel. The only place that knows SQL."""

from .boards import VARIANTS, BoardView, StaleError, Store
from .builds import Build, NoteView
from .database import open_database

__all__ = ["VARIANTS", "BoardView", "Build", "NoteView", "StaleError", "Store", "open_database"]
