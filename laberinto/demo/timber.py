"""What lies in the demo's racks: planks from the yard, offcuts of boards made, staves of an old herring barrel."""

from __future__ import annotations

from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.timber import needs
from laberinto.core.timber.cutting import Saw, Stock, cut
from laberinto.core.timber.lines import read_line
from laberinto.core.units import Lengths
from laberinto.store import Store

LOTS = """\
3 beech planks 2400 x 190 x 52, 10.5 %, price 39.00, long rack
2 beech planks 1900 x 160 x 40, 10.8 %, price 24.50, long rack, knot 620-690 x 50-95
5 beech offcuts 460 x 70 x 40, 9.6 %, price 2.60, offcut bin
2 hornbeam planks 2100 x 150 x 52, 11.2 %, price 34.00, long rack, shake 0-140 x 0-150
3 hornbeam offcuts 520 x 60 x 34, 10.1 %, price 2.40, offcut bin
2 sycamore planks 1850 x 175 x 52, 10.2 %, price 31.00, upper rack
1 sycamore plank 1300 x 140 x 34, 10.4 %, price 12.50, upper rack
2 elm planks 1700 x 210 x 52, 12.1 %, price 41.00, old cradle, knot 430-520 x 90-160, nail hole 1180-1200 x 30-50
4 elm scraps 380 x 90 x 30, 11.0 %, offcut bin
1 pear plank 1250 x 160 x 52, 10.0 %, price 46.00, upper rack
2 pear strips 900 x 45 x 40, 9.8 %, price 7.50, upper rack
1 plum blank 640 x 130 x 52, 10.9 %, price 38.00, under the bench, shake 0-60 x 20-110
3 plum scraps 420 x 55 x 40, 10.6 %, price 6.00, offcut bin
1 robinia plank 1800 x 140 x 52, 12.4 %, price 33.00, lean-to, sapwood 0-1800 x 0-14
2 bog oak planks 900 x 110 x 40, 11.5 %, price 64.00, under the bench
14 european oak staves 880 x 95 x 27, 13.0 %, price 3.00, curve 1760, lean-to, note herring barrel
1 common walnut plank 1400 x 170 x 52, 10.3 %, price 58.00, upper rack
2 wild cherry planks 1500 x 150 x 34, 10.1 %, price 23.00, upper rack, knot 940-990 x 20-70
1 rowan plank 1000 x 120 x 52, 11.0 %, price 19.00, lean-to
1 olive blank 480 x 140 x 52, 9.0 %, price 52.00, under the bench
"""


HELD_FOR = "Slipway"
"""The board that has its wood reserved."""


def hold(store: Store, name: str) -> None:
    """Reserve the wood of a board, with the cuts it will be cut by."""
    timber = store.timber
    board = next(board for board in store.boards() if board.name == name)
    pieces = [Stock(view.lot, view.id, nth) for view in timber.lots() for nth in range(1, view.free + 1)]
    shop = Shop()
    timber.reserve(board.id, cut(needs(simulate(board.plan), shop), pieces, Saw.of(shop), work=2))


def stock(store: Store) -> None:
    """Put the lots into the store."""
    store.timber.add(read_line(line, Lengths()) for line in LOTS.splitlines())
