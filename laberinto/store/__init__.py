"""Where boards are kept: SQLite through SQLModel. The only place that knows SQL."""

from .acknowledgements import Acknowledgements, Stand
from .bench import BenchStore, TallyView, TimerView
from .boards import StaleError, Store
from .builds import Build, NoteView, PhotoView
from .database import DATABASE, Changes, checkpoint, open_database, trouble
from .lessons import Lessons, LessonView
from .orders import NOTE, PRICE, WHOM, Orders
from .own_woods import WHOLE, OwnWoods, PhotoOf
from .pins import Pins, PinView
from .tables import in_utc
from .timber import CutView, LotView, ShortageError, Timber
from .trash import KEPT, Trash, TrashView
from .views import VARIANTS, BoardView, OrderState, OrderView, Shelf

__all__ = [
    "DATABASE",
    "KEPT",
    "NOTE",
    "PRICE",
    "VARIANTS",
    "WHOLE",
    "WHOM",
    "Acknowledgements",
    "BenchStore",
    "BoardView",
    "Build",
    "Changes",
    "CutView",
    "LessonView",
    "Lessons",
    "LotView",
    "NoteView",
    "OrderState",
    "OrderView",
    "Orders",
    "OwnWoods",
    "PhotoOf",
    "PhotoView",
    "PinView",
    "Pins",
    "Shelf",
    "ShortageError",
    "StaleError",
    "Stand",
    "Store",
    "TallyView",
    "Timber",
    "TimerView",
    "Trash",
    "TrashView",
    "checkpoint",
    "in_utc",
    "open_database",
    "trouble",
]
