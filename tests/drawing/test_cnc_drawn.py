"""What a machine does, drawn: each tool's way where it goes, and where what was carved differs."""

from __future__ import annotations

import io
import re
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from laberinto.core.cnc.gcode import Cut, read, write
from laberinto.core.cnc.job import Setting
from laberinto.core.cnc.lettering import strokes
from laberinto.core.cnc.machine import Clamp
from laberinto.core.cnc.moves import Move
from laberinto.core.cnc.program import Carved, deviation, program, stages
from laberinto.core.cnc.surface import HeightMap, seen_from
from laberinto.core.cnc.tools import USUAL
from laberinto.core.errors import InputError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.drawing.cnc import FINE, GOUGED, LEFT, deviation_png, ground, paths
from laberinto.drawing.skin import Flat


def flat(high: float = 0.0) -> HeightMap:
    return HeightMap(np.full((100, 150), high, np.float32), 0.0, 0.0, 0.2, -20.0)


def test_ways_are_drawn_where_the_tool_goes() -> None:
    """Right and down from the far left corner: y runs up on the machine. Rapids are not drawn; arcs stay arcs."""
    sim = simulate(Alternating(strips=4, slices=4).plan("Drawn"))
    face = face_of(sim.board.pieces[0], Side.TOP)
    long = float(face.size[1])
    moves = (Move(10, 20, 5), Move(10, 20, -1, 300), Move(30, 20, -1, 900), Move(30, 40, -1, 900, (30, 30), False),
             Move(60, 60, 5), Move(60, 60, -1, 300), Move(70, 60, -1, 900))  # fmt: skip
    cut = Cut("Two", USUAL[0], 18000, moves)
    drawn = paths(face, ground(face, Flat(sim)), [cut], [Clamp(0, 40, 20, 70, 15)], label="ways")
    (way,) = re.findall(r'<path d="([^"]+)"[^>]*class="tool-way"', drawn)
    assert way.startswith(f"M10 {long - 20:g}") and f"L30 {long - 20:g}A10 10 0 0 0 30 {long - 40:g}" in way
    assert way.count("M") == 2 and f"L60 {long - 60:g}" not in way.split("M")[1]
    assert f'y="{long - 70:g}"' in drawn and 'height="30"' in drawn


def test_blue_is_left_red_is_gone_sand_is_as_planned() -> None:
    planned, wood = flat(), flat()
    wood.z[60:80, 20:40] = -0.6
    planned.z[20:40, 90:120] = -0.6
    found = deviation(wood, planned)
    assert found[70, 30] == pytest.approx(-0.6) and found[30, 100] == pytest.approx(0.6) and found[5, 5] == 0
    picture = Image.open(io.BytesIO(deviation_png(Carved(planned, wood, timedelta(0), ""))))
    far = np.asarray(picture)[::-1]  # the far side is at the top
    for (row, column), colour in (((70, 30), GOUGED), ((30, 100), LEFT), ((5, 5), FINE)):
        assert np.abs(far[row, column].astype(int) - np.array(colour)).max() < 40


def test_a_wall_a_grid_off_is_no_deviation_and_waste_is_none() -> None:
    planned, wood = flat(), flat()
    planned.z[:, 50:] = -8
    wood.z[:, 51:] = -8
    assert not deviation(wood, planned).any()
    planned.z[:] = planned.floor
    assert not deviation(flat(), planned).any()  # no board is left there: whatever stands falls off


@pytest.mark.parametrize("family", ["alternating", "hollowed", "round", "tumbling"])
def test_a_height_map_is_the_solid_seen_from_above(family: str) -> None:
    """Its volume over the floor is the board's, to what a grid can tell, where nothing overhangs; turned over too."""
    sim = simulate(FAMILIES[family]().plan("Map"))
    piece = sim.board.pieces[0]
    cell = 0.5
    top = seen_from(piece, Side.TOP, zero=0.0, step=cell)
    under = seen_from(piece, Side.BOTTOM, zero=0.0, step=cell)
    thick = float(piece.size()[2])
    both = (top.z - top.floor).sum() + (under.z - under.floor).sum()
    area = float((top.z > top.floor + 0.01).sum())
    assert (both - area * thick) * cell**2 == pytest.approx(piece.volume(), rel=0.01)
    assert top.size == pytest.approx(tuple(piece.size()[:2]), abs=cell)


finite = st.floats(-300, 300).map(lambda v: round(v, 3))


@given(st.lists(st.tuples(finite, finite, finite, st.sampled_from([0.0, 300.0, 1250.0])), min_size=1, max_size=12))
def test_any_moves_are_read_as_they_were_written(told: list[tuple[float, float, float, float]]) -> None:
    """A move to where the tool stands says nothing and is left out; all else comes back with its feed."""
    moves = tuple(Move(*each) for each in told)
    back = [c.move for c in read(write([Cut("Any", USUAL[0], 9000, moves)], [], 50)) if c.move]
    wanted = [m for at, m in enumerate(moves) if at == 0 or m[:3] != moves[at - 1][:3]]
    found = back[1:-1]  # up before the tool, and at the end
    assert [m[:3] for m in found] == [m[:3] for m in wanted] or len(wanted) > len(found)
    for one, other in zip(found, wanted, strict=False):
        assert one[:3] == pytest.approx(other[:3], abs=1e-4) and one.feed == other.feed


def test_every_letter_keeps_to_its_grid() -> None:
    """Capitals are 6 high, small letters 4 without what rises above and hangs below, accents at most 2 over their letter;
    between two signs lie 1.6."""
    for sign in "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789ßøæ-.,:!?'\"/&+=#()":
        drawn, wide = strokes(sign, 6.0)
        for stroke in drawn:
            assert len(stroke) > 1 and all(0 <= x <= wide + 1e-9 and -2 <= y <= 6 for x, y in stroke), sign
    tops = {letter: max(y for stroke in strokes(letter, 6.0)[0] for _, y in stroke) for letter in "oÖöéi"}
    assert tops == pytest.approx({"o": 4, "Ö": 7.6, "ö": 5.6, "é": 5.8, "i": 5.8})
    words, wide = strokes("Ebb to", 12.0)  # 4, 3 and 3 wide, a space of 2.4, then 3 and 3
    assert words and wide == pytest.approx((4 + 3 + 3 + 2.4 + 3 + 3 + 5 * 1.6) * 2)


def test_a_mark_that_cannot_be_engraved_says_why() -> None:
    with pytest.raises(InputError, match=r"“日”.*Leave it out") as unknown:
        strokes("Ebb 日", 5.0)
    assert unknown.value.field == "text"
    sim = simulate(Alternating(strips=4, slices=4).plan("Narrow"))
    stage = [one.id for one in stages(sim, Side.TOP)][:1]
    # 40 letters 4 wide with 39 × 1.6 between them, enlarged by 9 ÷ 6: 333.6
    with pytest.raises(InputError, match=r"The mark is .* wide, and the board .*fewer letters") as wide:
        program(sim, stage, Side.TOP, USUAL, Setting(), text="W" * 40, capital=9.0)
    assert wide.value.mm["wide"] == pytest.approx(333.6)
