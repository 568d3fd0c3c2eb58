"""Every drawing of every stage of very different boards: nothing undefined, nothing lost, nothing beside the paper."""

from __future__ import annotations

import re
from collections.abc import Iterator
from xml.etree import ElementTree

import pytest

from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.steps import steps
from laberinto.core.units import Lengths
from laberinto.drawing import bench, board, maps, replay, unfolded
from laberinto.drawing.skin import Flat, Ringed

SVG = "{http://www.w3.org/2000/svg}"
NUMBER = re.compile(r"-?\d+(?:\.\d+)?(?:e-?\d+)?")
BOARDS = tuple(FAMILIES)


@pytest.fixture(params=BOARDS, scope="module")
def sim(request: pytest.FixtureRequest) -> Simulation:
    return simulate(FAMILIES[request.param]().plan("Drawn"))


@pytest.fixture(scope="module")
def drawn(sim: Simulation) -> list[tuple[str, ElementTree.Element]]:
    return [(name, root_of(svg)) for name, svg in drawings(sim, Lengths())]


def drawings(sim: Simulation, lengths: Lengths) -> Iterator[tuple[str, str]]:
    """Every drawing that a page or the paper shows of a board, by name."""
    for result in sim.results:
        name = result.stage.id
        yield f"{name}: stage", bench.stage(sim, result, Flat(sim), lengths)
        yield f"{name}: replay", replay.scene(sim, result, Flat(sim), name)
    piece = sim.board.pieces[0]
    yield "face", board.board(piece, Ringed(sim, "r"), lengths, label="face")
    yield "edges", unfolded.edges(piece, Flat(sim), lengths, label="edges")
    yield "corner", unfolded.corner(piece, Flat(sim), label="corner")
    for step in steps(sim, lengths):
        if step.map in maps.MAPS:
            for one in maps.MAPS[step.map](sim, step, lengths, Flat(sim)).split("</svg>")[:-1]:
                yield f"{step.key}: map", one + "</svg>"


def root_of(svg: str) -> ElementTree.Element:
    return ElementTree.fromstring(svg)


def outline(path: str) -> tuple[list[float], list[float]]:
    """All x and all y of an absolute path of straight lines."""
    numbers = [float(n) for n in NUMBER.findall(path)]
    return numbers[::2], numbers[1::2]


def still(element: ElementTree.Element) -> Iterator[ElementTree.Element]:
    """What lies where it says: in no definition and moved by nothing."""
    if element.tag in (f"{SVG}defs", f"{SVG}pattern", f"{SVG}clipPath") or element.get("transform"):
        return
    yield element
    for child in element:
        yield from still(child)


def plain(root: ElementTree.Element) -> Iterator[ElementTree.Element]:
    """Paths of straight lines alone."""
    for element in still(root):
        if element.tag == f"{SVG}path" and re.fullmatch(r"[MLZ0-9eE ,.\-]*", element.get("d", "")):
            yield element


def test_drawings_define_what_they_use_and_name_it_once(drawn: list[tuple[str, ElementTree.Element]]) -> None:
    for name, root in drawn:
        ids = [found for element in root.iter() if (found := element.get("id"))]
        assert len(ids) == len(set(ids)), f"{name}: two parts go by one name"
        values = [value for element in root.iter() for value in element.attrib.values()]
        used = {found for value in values for found in re.findall(r"url\(#([^)]+)\)", value)}
        used |= {value[1:] for element in root.iter() if (value := element.get("href", "")).startswith("#")}
        assert used <= set(ids), f"{name}: {used - set(ids)} is nowhere defined"
        assert not [v for v in values if re.search(r"\b(?:nan|inf|None)\b", v)], name
        assert "nan" not in {(element.text or "").strip() for element in root.iter()}, name


def test_drawings_keep_to_their_paper(drawn: list[tuple[str, ElementTree.Element]]) -> None:
    """What is drawn and what is written lies within the picture, give or take a stroke."""
    for name, root in drawn:
        left, top, width, height = (float(v) for v in root.get("viewBox", "").split())
        assert width > 0 and height > 0, name
        room = 0.02 * max(width, height)
        for path in plain(root):
            if "replay" in name:
                break  # these come in from outside
            xs, ys = outline(path.get("d", ""))
            if xs:
                assert left - room <= min(xs) and max(xs) <= left + width + room, (
                    f"{name}: {path.get('class')} beside it"
                )
                assert top - room <= min(ys) and max(ys) <= top + height + room, f"{name}: {path.get('class')} above it"
        for word in (element for element in still(root) if element.tag == f"{SVG}text"):
            x, y = float(word.get("x", "0")), float(word.get("y", "0"))
            wide = 0.6 * float(word.get("font-size", "0")) * len(word.text or "")  # figures and words are monospaced
            start = x - wide * {"start": 0.0, "middle": 0.5, "end": 1.0}[word.get("text-anchor", "start")]
            assert left - room / 4 <= start and start + wide <= left + width + room / 4, f"{name}: “{word.text}”"
            assert top - room <= y <= top + height + room, f"{name}: “{word.text}”"


def test_the_face_says_the_finished_size_in_every_unit(sim: Simulation) -> None:
    for system in ("mm", "in"):
        lengths = Lengths(system)
        words = {
            e.text for e in root_of(board.board(sim.board.pieces[0], Flat(sim), lengths, label="f")).iter(f"{SVG}text")
        }
        for size in sim.board.size:
            assert {lengths.show(size), lengths.show(size, unit=False)} & words, f"{size} mm in {system}: {words}"


def test_every_wood_of_the_board_is_on_its_face(sim: Simulation) -> None:
    """Colours of a flat skin stand for woods: as many are filled in as the face has, and no other."""
    skin = Flat(sim)
    piece = sim.board.pieces[0]
    woods = {sim.strips[int(strip)].wood for strip in piece.strip}
    svg = root_of(board.board(piece, skin, Lengths(), label="f"))
    fills = {e.get("fill") for e in svg.iter() if (e.get("fill") or "").startswith(("#", "url"))}
    assert len(woods) >= 1 and len(fills) >= len(woods)


def test_both_units_draw_the_same_wood() -> None:
    """Only what is written changes with the unit; the wood is drawn to the same scale."""
    sim = simulate(FAMILIES["weave"]().plan("Drawn"))
    one, other = (bench.stage(sim, sim.board, Flat(sim), Lengths(system)) for system in ("mm", "in"))
    assert [p.get("d") for p in plain(root_of(one))][:50] == [p.get("d") for p in plain(root_of(other))][:50]
    assert one != other
