"""A board that has everything a board file can hold, in a shop of its own."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from io import BytesIO
from pathlib import Path

from PIL import Image

from laberinto.core.analysis.lessons import When
from laberinto.core.patterns import Alternating
from laberinto.core.timber import Lot
from laberinto.core.timber.cutting import Saw, Stock, cut
from laberinto.core.timber.needs import Need
from laberinto.core.woods import LIBRARY, Wood
from laberinto.store import OrderState, PhotoOf, Store, open_database
from tests.empty import new_shop

AT = datetime(2026, 3, 2, 18, 30, tzinfo=UTC)

QUAY: Wood = LIBRARY["beech"].model_copy(update={"key": "quay-pear", "name": "Quay pear", "source": "OWN"})
"""A wood of the shop's own."""


def jpeg(colour: str, size: tuple[int, int] = (40, 30)) -> bytes:
    """A small picture."""
    out = BytesIO()
    Image.new("RGB", size, colour).save(out, "JPEG")
    return out.getvalue()


def shop(folder: Path) -> Store:
    """An empty shop."""
    return Store(open_database(new_shop(folder)))


def furnished(folder: Path) -> tuple[Store, int]:
    """A shop with a board of an own wood: changes, variants, an order, a log with photos, faults, counts and lessons,
    lots that it was cut from, booked and reserved."""
    store = shop(folder)
    store.woods.keep(QUAY)
    store.woods.picture("quay-pear", "end", PhotoOf(jpeg("tan"), ((0, 0), (1, 0), (1, 1), (0, 1)), 60, 40, "raw"))
    LIBRARY.take_in(store.woods.all())
    plan = Alternating(light="quay-pear", dark="elm", strips=6, slices=6).plan("Skerry")
    board = store.create(plan, order_for="The chandler", due=AT + timedelta(days=30), at=AT)
    view = store.board(board)
    assert view is not None and view.order is not None
    store.orders.move(view.order, OrderState.QUOTED)
    wider = Alternating(light="quay-pear", dark="elm", strips=6, slices=6, strip_width=32).plan("Skerry")
    store.pin(board, "A")
    second = store.save(board, wider, "strips 32 wide", based_on=view.revision, token="t1")
    store.pin(board, "B")
    store.undo(board)
    store.save(board, plan.model_copy(update={"note": "for the bench"}), "a note", based_on=view.revision)
    store.revisions(board).name(second.revision, "wide")
    build = store.build(board)
    build.tick("strips.rough", AT)
    build.write("strips.plane", "tore a little", 35.1, AT, 35.0, "thickness", "mm", 2, (35.0, 35.2))
    build.keep_photo("strips.plane", jpeg("red"), AT)
    build.keep_photo("board.glue", jpeg("navy"), AT + timedelta(days=1))
    store.bench.bring(board, "slices.cut", 3, AT)
    store.acknowledged(board).put("too_wide.board-flat", "it is too wide", "the boatyard's sled takes it")
    pin = store.pins(board).put(
        0, "top", 20.0, 31.5, "gap", strip="A3", wood="elm", stage="board", text="a hair", at=AT
    )
    store.pins(board).mend(pin, "a hair", "glue and dust", 12.0)
    store.pins(board).picture(pin, "board.glue", jpeg("gold"))
    store.lessons.add("Half the bite for pear", When(kind="flatten", wood="quay-pear"), board, "Skerry")
    lots = [Lot.of(wood="quay-pear", count=2, length=1200.0, width=150.0, thickness=52.0, place="rack 2"),
            Lot.of(wood="elm", count=1, length=1200.0, width=150.0, thickness=52.0)]  # fmt: skip
    first, other = store.timber.add(lots)
    store.timber.set_photo(first, jpeg("peru"))
    for wood, lot in (("elm", other), ("quay-pear", first)):
        stock = [Stock(v.lot, v.id, 1) for v in store.timber.lots() if v.id == lot]
        held = cut([Need(wood, 600, 33, 36, 3)], stock, Saw(kerf=3, end=20, edge=4), work=1)
        reserved = store.timber.reserve(board, held)
        if wood == "elm":
            store.timber.book(reserved)
    return store, board
