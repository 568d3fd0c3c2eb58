"""Paths, G-code and the simulated machine: what is carved is what was planned, and what would break stops."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.cnc.gcode import GcodeError, Reader, read
from laberinto.core.cnc.job import Setting, depths
from laberinto.core.cnc.machine import Bed, Clamp, Machine, StoppedError, Why
from laberinto.core.cnc.moves import circle, length, rounded, turned_back
from laberinto.core.cnc.program import Carved, Program, carve, program, stages, usual
from laberinto.core.cnc.surface import HeightMap
from laberinto.core.cnc.tools import USUAL, Tool, ToolKind, speeds
from laberinto.core.errors import InputError
from laberinto.core.geometry.faces import Side
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import (
    Cause,
    Ease,
    Flatten,
    Glue,
    Groove,
    Hollow,
    Inlay,
    Mill,
    Notch,
    Shape,
    Stage,
    StripSpec,
    Trim,
    Well,
)

TOOLS = {tool.number: tool for tool in USUAL}


def board(*more: Stage) -> Simulation:
    """A board 160 × 200 × 30 of two woods with these stages."""
    strips = (StripSpec(wood="beech", width=40), StripSpec(wood="plum", width=40)) * 2
    last, chained = "g", []
    for stage in more:
        alone = stage.source is not None or isinstance(stage, Mill)
        chained.append(stage if alone else stage.model_copy(update={"source": last}))
        last = chained[-1].id
    return simulate(Plan(name="Cut", stages=(
        Mill(id="s", thickness=30, length=200, strips=strips), Glue(id="g", source="s"), *chained,
    )))  # fmt: skip


def made(sim: Simulation, *chosen: str, side: Side = Side.TOP, **more: object) -> Program:
    return program(sim, chosen or [s.id for s in stages(sim, side)], side, USUAL, Setting(), **more)  # type: ignore[arg-type]


def carved(sim: Simulation, *chosen: str, side: Side = Side.TOP) -> Carved:
    out = carve(made(sim, *chosen, side=side), USUAL)
    assert out.stopped == ""
    return out


@pytest.mark.parametrize(("stage", "left"), [
    (Groove(id="x", inset=20, width=12, depth=6), 0.05),
    (Groove(id="x", inset=20, width=12, depth=6, corners="inside-template"), 0.05),
    (Groove(id="x", path="circle", inset=20, width=12, depth=5), 0.05),
    (Groove(id="x", path="runs", runs=(((20, -10), (20, 120)), ((40, 40), (120, 90))), width=12, depth=6), 0.05),
    (Groove(id="x", bit="vee", angle=90, depth=4), 0.05),
    (Groove(id="x", inset=20, width=12, depth=6, face="bottom"), 0.05),
    (Well(id="x", width=50, length=40, radius=8, depth=10), 0.05),
    (Well(id="x", place="back-left", width=50, length=40, radius=8, depth=10, face="bottom"), 0.05),
    (Hollow(id="x", radius=200, depth=8), 0.25),
    (Hollow(id="x", radius=200, depth=8, offset=(12, -6), face="bottom"), 0.25),
    (Hollow(id="x", radius=200, depth=8, form="cylinder-along"), 0.25),
    (Hollow(id="x", radius=200, depth=8, form="cylinder-across"), 0.25),
    (Flatten(id="x", each_face=1.5), 0.01),
    (Notch(id="x", sides="left", width=60, depth=20, radius=10), 0.05),
    (Shape(id="x", radius=20), 0.05),
    (Shape(id="x", outline="circle"), 0.05),
    (Ease(id="x", form="chamfer", size=3), 0.1),
    (Ease(id="x", form="round-over", size=4), 0.1),
])  # fmt: skip
def test_what_is_carved_is_what_was_planned(stage: Stage, left: float) -> None:
    """Nothing gouged by more than the engine's facets (0.05 mm), and no more left than the ridges that are allowed."""
    side = Side.BOTTOM if getattr(stage, "face", "top") == "bottom" else Side.TOP
    out = carved(board(stage), side=side)
    assert out.deviation.min() > -0.05 and out.deviation.max() < left
    assert (out.planned.z < -0.4).any() or isinstance(stage, Flatten)


def test_a_groove_is_as_deep_as_planned_and_as_much_is_gone() -> None:
    """Six below the face along its middle; and as much dust as the stage books, to what a grid can tell."""
    sim = board(Groove(id="x", inset=20, width=12, depth=6))
    out = carved(sim)
    for x, y in ((20.1, 100.1), (80.1, 20.1), (139.9, 60.1)):
        assert out.wood.at(x, y) == pytest.approx(-6, abs=0.05)
    gone = float((0 - out.wood.z).sum()) * out.wood.step**2
    assert gone == pytest.approx(sim["x"].outcome.waste[Cause.SHAPING], rel=0.01)


def test_channels_are_as_wide_as_their_strips() -> None:
    strip = Mill(id="k", thickness=9, length=220, strips=(StripSpec(wood="elm", width=14),))
    sim = board(strip, Inlay(id="x", source="g", **{"with": ("k",)}, at=(60,), depth=5))
    text = made(sim, "x").text
    machine = Machine(made(sim, "x").wood()[0], TOOLS, 30)
    machine.run(read(text))
    assert machine.wood.at(60, 100) == pytest.approx(-5) and machine.wood.at(53.3, 100) == pytest.approx(-5)
    assert machine.wood.at(52.5, 100) == pytest.approx(0, abs=1e-4) and machine.wood.at(67.5, 5) == pytest.approx(
        0, abs=1e-4
    )


def test_an_outline_keeps_its_tabs() -> None:
    """Four of them 3 mm high, in the corners' waste no more than 8 mm long; all else of the cut is through. The board is
    160 × 200, and the tool's middle runs 3 beside it."""
    whole = made(board(Shape(id="x", radius=20)))
    (cut,) = whole.cuts
    out = carve(whole, USUAL)
    assert len(cut.tabs) == 4 and len(set(cut.tabs)) == 4
    for x, y in cut.tabs:
        assert min(abs(x + 3), abs(x - 163), abs(y + 3), abs(y - 203)) < 0.01 or (
            min(x, 160 - x) < 20 > min(y, 200 - y)
        )
    lowest = min(m.z for m in cut.moves)
    levels = {round(m.z, 2) for m in cut.moves if not m.rapid}
    assert lowest == pytest.approx(-30.4) and -27.0 in levels and out.stopped == ""


def test_flattening_goes_by_what_was_measured() -> None:
    """Corners that stand 2.4 over the lowest want passes from there; as planned it would begin at 1.5."""
    sim = board(Flatten(id="x", each_face=1.5))
    planned, measured = made(sim), made(sim, heights=(2.4, 0.3, 0.9, 0.0))
    tops = [max(m.z for m in p.cuts[0].moves if not m.rapid) for p in (planned, measured)]
    assert tops[0] < 1.5 < tops[1] + 1.0 and len(measured.cuts[0].moves) > len(planned.cuts[0].moves)


def test_the_mark_is_engraved_in_single_lines() -> None:
    sim = board(Groove(id="x", inset=20))
    marked = made(sim, text="TIDELINE", capital=10)
    cut = marked.cuts[-1]
    assert cut.tool.kind is ToolKind.VEE and {round(m.z, 3) for m in cut.moves if not m.rapid} == {-0.8}
    xs = [m.x for m in cut.moves if not m.rapid]
    ys = [m.y for m in cut.moves if not m.rapid]
    assert max(ys) - min(ys) == pytest.approx(10) and (max(xs) + min(xs)) / 2 == pytest.approx(80, abs=0.5)
    # it is planned: a V of 90° is 0.8 deep in its middle and 0.8 to either side, and carved as deep as that
    _, planned = marked.wood()
    stem = next(stroke for stroke in marked.mark.lines if stroke[0][0] == stroke[1][0])
    x, y = stem[0][0], (stem[0][1] + stem[1][1]) / 2
    for out, deep in ((0.0, -0.8), (0.4, -0.4), (-0.4, -0.4), (1.0, 0.0)):
        assert planned.at(x + out, y) == pytest.approx(deep, abs=0.11)
    out = carve(marked, USUAL)
    assert out.stopped == "" and float(np.abs(out.deviation).max()) < 0.05


def test_what_the_table_lacks_is_said() -> None:
    sim = board(Groove(id="x", width=9, depth=4))
    with pytest.raises(InputError, match="no ball nose of 9 mm") as error:
        made(sim)
    assert error.value.field == "tools"
    with pytest.raises(InputError, match="at least one stage"):
        made(sim, "no-such")


def positions(text: str) -> list[tuple[float, float, float]]:
    """A parser of its own, after nothing but the documented dialect: where each line leads."""
    at, out = [0.0, 0.0, 0.0], []
    for line in text.splitlines():
        line = re.sub(r"\(.*?\)", "", line)
        assert re.fullmatch(r"(?:[GMTSFXYZIJ]-?[\d.]+ ?)*", line), line
        for letter, number in re.findall(r"([XYZ])(-?[\d.]+)", line):
            at["XYZ".index(letter)] = float(number)
        out.append((at[0], at[1], at[2]))
    return out


def test_g_code_reads_back_as_the_moves_it_came_from() -> None:
    sim = board(
        Groove(id="a", inset=20, width=12), Well(id="b", depth=10, radius=8), Hollow(id="c", radius=200, depth=6)
    )
    whole = made(sim)
    text = whole.text
    moves = [m for cut in whole.cuts for m in cut.moves]
    back = [c.move for c in read(text) if c.move]

    def written(x: float, y: float, z: float) -> tuple[str, ...]:
        return tuple(f"{v:.4f}".replace("-0.0000", "0.0000") for v in (x, y, z))

    ends = {written(m.x, m.y, m.z) for m in moves}
    assert ends <= {written(m.x, m.y, m.z) for m in back} and ends <= {written(*at) for at in positions(text)}
    arcs = [m.clockwise for m in moves if m.centre]
    assert arcs and arcs == [m.clockwise for m in back if m.centre]  # arcs where arcs are
    assert text.startswith("(Cut: groove, well, hollow)") and text.rstrip().endswith("M30")
    for word in ("G21", "G90", "G17", "G94", "T2 M6", "M3 S18000"):
        assert f"\n{word}\n" in text


@pytest.mark.parametrize(("line", "says"), [
    ("G5 X1", "G5 is not in this dialect"), ("M8", "M8 is not"), ("hello", "no G-code"), ("X10", "no G0 or G1"),
    ("G1 X10", "without a feed"), ("T1 M6\nG1 F100 X1 A4", "A is not"), ("M6", "wants a tool"), ("M3", "wants a speed"),
    ("G0 X10\nG2 F100 X20 Y0 I1 J0", "this arc begins 1.000 and ends 9.000"), ("G1 F1 X1..2", "no G-code"),
])  # fmt: skip
def test_what_the_dialect_has_not_is_said_with_its_line(line: str, says: str) -> None:
    with pytest.raises(GcodeError, match=says) as error:
        read("(a remark)\n" + line)
    assert error.value.line == 1 + len(line.splitlines())


def wood(high: float = 0.0) -> HeightMap:
    return HeightMap(np.full((250, 250), high, np.float32), 0.0, 0.0, 0.2, -30.0)


READY = "T1 M6\nM3 S18000\n"


@pytest.mark.parametrize(("why", "text", "clamps"), [
    (Why.RAPID, READY + "G0 X10 Y10 Z5\nG0 Z-3", ()),
    (Why.RAPID, READY + "G0 X-20 Y10 Z-3\nG0 X70", ()),
    (Why.CLAMP, READY + "G0 X5 Y25 Z5\nG1 X45 F500", (Clamp(20, 20, 30, 30, 12),)),
    (Why.CLAMP, READY + "G0 X10 Y25 Z30\nG1 Z-20 F500", (Clamp(24, 20, 34, 30, 30),)),  # the holder, 20 wide from 10
    (Why.HOLDER, "T5 M6\nM3 S12000\nG0 X25 Y25 Z5\nG1 Z-14 F300", ()),
    (Why.TRAVEL, READY + "G0 X900", ()),
    (Why.TRAVEL, READY + "G0 Z200", ()),
    (Why.SPOILBOARD, READY + "G0 X-20 Y10 Z5\nG1 Z-31.5 F300", ()),
    (Why.SPINDLE, "T1 M6\nG0 X10 Y10 Z5\nG1 Z-1 F300", ()),
    (Why.TOOL, "T9 M6", ()),
    (Why.TOOL, "M3 S9000\nG0 X10 Y10 Z5\nG1 Z-1 F300", ()),
])  # fmt: skip
def test_the_machine_stops_before_anything_breaks(why: Why, text: str, clamps: tuple[Clamp, ...]) -> None:
    """Each at the last line of its program, and the wood is as it was before it."""
    machine = Machine(wood(), TOOLS, 30, clamps)
    *before, last = read(text)
    machine.run(before)
    as_it_was = machine.wood.z.copy()
    with pytest.raises(StoppedError, match=re.escape(why.words)) as error:
        machine.take(last)
    assert error.value.why is why and error.value.line == len(text.splitlines())
    assert (machine.wood.z == as_it_was).all() or why is Why.HOLDER


@pytest.mark.parametrize("ends", [(-1.0, -6.0), (-6.0, -1.0)], ids=["down", "up"])
def test_a_flat_tip_that_slopes_leaves_the_lowest_it_comes(ends: tuple[float, float]) -> None:
    """Held against a tip of 6 mm set down at 4,000 places of its way."""
    begin, end = np.array([12.0, 15.0, ends[0]]), np.array([38.0, 29.0, ends[1]])
    machine = Machine(wood(), TOOLS, 30)
    machine.run(read(READY + f"G0 X12 Y15 Z5\nG1 Z{ends[0]} F300\nG1 X38 Y29 Z{ends[1]}"))
    middle = (np.arange(250) + 0.5) * 0.2
    left = np.zeros((250, 250))
    for x, y, z in begin + (end - begin) * np.linspace(0, 1, 4001)[:, None]:
        rows, columns = abs(middle - y) <= 3, abs(middle - x) <= 3
        disc = np.hypot(middle[columns][None, :] - x, middle[rows][:, None] - y) <= 3
        there = left[np.ix_(rows, columns)]
        left[np.ix_(rows, columns)] = np.where(disc, np.minimum(there, z), there)
    assert (left < -1).sum() > 4000
    np.testing.assert_allclose(machine.wood.z, left, atol=0.005)


def test_it_takes_as_long_as_acceleration_allows() -> None:
    """100 mm at 100 mm/s from rest with 400 mm/s²: 0.25 s over 12.5 mm, then 0.875 s. Half-way round a corner of 90° it
    has stopped."""
    bed = Bed(acceleration=400, rapid=6000)
    machine = Machine(wood(), TOOLS, 30, bed=bed, at=(0, 0, 10))
    machine.run(read("T1 M6\nM3 S1\nG1 F6000 X100 Z10"))
    assert machine.seconds == pytest.approx(1.125)
    machine.run(read("G1 F6000 X100 Y100 Z10"))
    assert machine.seconds == pytest.approx(2.25)
    machine.run(read("G1 F6000 X100 Y200 Z10"))  # straight on: no slowing
    assert machine.seconds == pytest.approx(3.25)


@given(st.floats(20, 200), st.floats(20, 200), st.floats(0, 60))
def test_contours_measure_what_they_should(wide: float, high: float, radius: float) -> None:
    """A rectangle with arcs of r is 2 (w + h) − 8 r + 2 π r long, either way round."""
    r = min(radius, wide / 2, high / 2)
    contour = rounded((0, 0), (wide, high), radius)
    expected = 2 * (wide + high) + ((2 * math.pi - 8) * r if r > 1e-6 else 0)
    assert length(contour) == pytest.approx(expected) == pytest.approx(length(turned_back(contour)))
    for a, b in zip(contour, contour[1:] + contour[:1], strict=True):
        assert a.end == pytest.approx(b.start, abs=1e-6)
    assert length(circle(3, 4, wide)) == pytest.approx(2 * math.pi * wide)


@given(st.floats(0.1, 40), st.floats(0.2, 5))
def test_passes_are_even_and_none_is_too_deep(deep: float, bite: float) -> None:
    steps = np.diff([0.0, *depths(0.0, -deep, bite)])
    assert np.abs(steps).max() <= bite + 1e-9 and steps.sum() == pytest.approx(-deep) and np.ptp(steps) < 1e-9


def test_feeds_follow_chip_and_wood() -> None:
    """6 mm, two edges, 18,000 turns in a wood of 6,460 N: a chip of 0.8 % of 6 = 0.048 mm, so 1728 mm/min; a harder one
    is fed slower and cut shallower; no faster than the machine goes."""
    flat = Tool(number=1, kind=ToolKind.FLAT, diameter=6, reach=40)
    here = speeds(flat, 6460, 18000, 5000)
    assert (here.feed, here.depth) == (1728, 2.4)
    harder = speeds(flat, 11000, 18000, 5000)
    assert harder.feed < here.feed and harder.depth < here.depth
    assert speeds(flat, 2000, 24000, 900).feed == 900


def test_hold_and_resume_change_nothing() -> None:
    """Line by line, as over a port, comes to the same as at one go."""
    whole = made(board(Groove(id="x", inset=20)))
    one, other = (Machine(whole.wood()[0], TOOLS, 30) for _ in range(2))
    one.run(read(whole.text))
    reader = Reader()
    for line in whole.text.splitlines():
        other.run(reader.read(line))
    assert (one.wood.z == other.wood.z).all() and one.seconds == other.seconds and one.done and other.done


word = st.tuples(
    st.sampled_from("GMTSFXYZIJNQ%("), st.sampled_from(["0", "1", "2", "3", "-4.5", "1e9", "", ".", "17"])
).map("".join)


@given(st.lists(st.lists(word, max_size=5).map(" ".join) | st.text(max_size=20), max_size=8))
def test_whatever_is_sent_is_done_or_refused_with_its_line(lines: list[str]) -> None:
    """Nothing that somebody sends brings the machine down, moves it out of its bed, or cuts with the spindle off."""
    machine = Machine(wood(), TOOLS, 30)
    reader = Reader()
    for number, line in enumerate(lines, 1):
        try:
            for command in reader.read(line.replace("\n", " ")):
                machine.take(command)
        except (GcodeError, StoppedError) as error:
            assert error.line == number and str(error).startswith(f"Line {number}: ")
            break
    x, y, z = machine.at
    assert -100 <= x <= 700 and -100 <= y <= 700 and -31 <= z <= 80
    assert machine.spindle or float(machine.wood.z.min()) == 0


def test_what_is_done_at_one_go_is_what_leaves_the_board_as_large_as_it_is() -> None:
    """A trim between two grooves takes the board off the machine: the later one is chosen, both together are refused.
    Flattening is only chosen where the plan has a CNC router do it."""
    sim = board(
        Flatten(id="planed", each_face=1), Groove(id="first", inset=20), Trim(id="cut", width=140),
        Groove(id="second", inset=12, depth=3), Flatten(id="routed", each_face=0.5, method="cnc"),
    )  # fmt: skip
    assert [stage.id for stage in stages(sim, Side.TOP)] == ["planed", "first", "second", "routed"]
    assert [stage.id for stage in usual(sim, Side.TOP)] == ["second", "routed"]
    with pytest.raises(InputError, match=r"cut to another size \(trim\)"):
        made(sim, "first", "second")
    assert [stage.id for stage in stages(sim, Side.BOTTOM)] == ["planed", "routed"]


def test_what_is_flattened_after_a_groove_counts_for_both() -> None:
    """Zero is the face as it is at the end: a groove of 5 that is flattened by 1 later is cut to 4 below it, and the
    wood begins 1 above; a notch goes through to the table, as the underside is not planed yet."""
    sim = board(Groove(id="r", inset=20, width=12, depth=5), Flatten(id="f", each_face=1, method="cnc"),
                Notch(id="n", sides="left", width=60, depth=20))  # fmt: skip
    whole = made(sim, "r", "f", "n")
    assert whole.top == 1 and whole.table == 29 and "(The table lies 29.00 mm below zero)" in whole.text
    before, planned = whole.wood()
    assert before.at(80, 100) == 1 and before.floor == -29
    out = carve(whole, USUAL)
    assert out.stopped == "" and out.wood.at(20.1, 150.1) == pytest.approx(-4, abs=0.05)
    assert out.wood.at(80, 100) == pytest.approx(0, abs=1e-4) and out.wood.at(10, 100) == pytest.approx(-29.4, abs=0.01)
    assert out.deviation.min() > -0.05 and planned.at(80, 100) == 0


def test_a_board_cut_to_a_circle_goes_on_in_its_own_place() -> None:
    """Cut out of 160 × 200, a circle of 160 begins 20 from the near edge; a groove in it lies about the same middle."""
    sim = board(Shape(id="round", outline="circle"), Groove(id="ring", path="circle", inset=20, width=12, depth=5))
    out = carved(sim)
    assert out.wood.at(80, 100 + 60) == pytest.approx(-5, abs=0.05) and out.wood.at(80, 100) == pytest.approx(
        0, abs=1e-3
    )
    assert out.deviation.min() > -0.05


def test_it_goes_over_clamps_and_begins_over_the_highest_corner() -> None:
    """A clamp 15 high in the middle, which no cut comes near: rapids go over it. Corners measured 2.4 over the lowest
    stand on the 1.5 that come off anyway, so the first pass lies within a pass of 3.9 and nothing is met on the way."""
    sim = board(Well(id="a", place="front-left", width=30, length=30, radius=8, inset=10),
                Well(id="b", place="back-right", width=30, length=30, radius=8, inset=10))  # fmt: skip
    clamp = Clamp(70, 90, 90, 110, 15)
    assert "clamp" in carve(made(sim), USUAL, [clamp]).stopped
    over = program(sim, ["a", "b"], Side.TOP, USUAL, Setting(clear=21))
    assert carve(over, USUAL, [clamp]).stopped == "" and over.clear == 21
    measured = made(board(Flatten(id="x", each_face=1.5)), heights=(2.4, 0.3, 0.9, 0.0))
    first = max(m.z for m in measured.cuts[0].moves if not m.rapid)
    assert 3.9 - 1.5 <= first < 3.9 < measured.clear
