"""Templates on paper and on the page: true to 0.1 mm, measured in the PDF's own paths."""

from __future__ import annotations

import re
from collections.abc import Iterator
from io import BytesIO

import numpy as np
import pytest
from pypdf import PageObject, PdfReader

from laberinto.core.patterns import Alternating
from laberinto.core.stages import Groove, Well
from laberinto.store import Store

from .conftest import Visitor

POINT = 25.4 / 72


def grooved(store: Store) -> int:
    """A board of 240 × 150 with a groove and a well."""
    plan = Alternating(strips=8, strip_width=32, row=32, slices=5, width=240, length=150).plan("Skerry")
    last = plan.stages[-1].id
    more = (Groove(id="gr", source=last, inset=20, corner_radius=15), Well(id="we", source="gr", inset=40))
    return store.create(plan.model_copy(update={"stages": (*plan.stages, *more)}))


def paths(page: PageObject) -> Iterator[np.ndarray]:
    """Every line that is stroked, (n, 2) mm on the paper."""
    contents = page.get_contents()
    assert contents is not None
    now, kept, run, done = np.eye(3), [], [], []
    for values, name in contents.operations:
        v = [float(each) for each in values] if name in (b"cm", b"m", b"l", b"re") else []
        if name == b"q":
            kept.append(now)
        elif name == b"Q":
            now = kept.pop()
        elif name == b"cm":
            now = np.array([[v[0], v[1], 0], [v[2], v[3], 0], [v[4], v[5], 1]]) @ now
        elif name == b"m":
            run = [v]
            done.append((run, now))
        elif name == b"l":
            run.append(v)
        elif name in (b"S", b"f", b"f*", b"n", b"B"):
            if name == b"S":
                yield from (
                    (np.column_stack([points, np.ones(len(points))]) @ matrix)[:, :2] * POINT
                    for points, matrix in done if len(points) > 1
                )  # fmt: skip
            done = []


def spans(page: PageObject, closed: int = 3) -> list[tuple[float, float]]:
    """Width and height of each line with so many corners at least, mm."""
    return [tuple(np.ptp(points, axis=0)) for points in paths(page) if len(points) >= closed]


def has(page: PageObject, wide: float, high: float, corners: int = 3) -> bool:
    """Whether a line of this size is on the page, to 0.1 mm."""
    return any(abs(w - wide) < 0.1 and abs(h - high) < 0.1 for w, h in spans(page, corners))


def sheets(visitor: Visitor, address: str) -> list[PageObject]:
    answer = visitor.printed(address)
    assert answer.status_code == 200 and answer.mimetype == "application/pdf", answer.data[:200]
    return list(PdfReader(BytesIO(answer.data)).pages)


@pytest.mark.parametrize(("paper", "size"), [("a4", (210.0, 297.0)), ("letter", (215.9, 279.4))])
def test_what_is_printed_is_true_to_a_tenth(
    visitor: Visitor, store: Store, paper: str, size: tuple[float, float]
) -> None:
    """A well of 60 × 60 with a bush of 24 and a bit of 12 has an opening of 72 × 72; the rulers are 100 mm and 4 in."""
    board = grooved(store)
    pages = sheets(visitor, f"/boards/{board}/paper/templates.pdf?key=we.opening&paper={paper}")
    assert len(pages) == 2
    assert [float(v) * POINT for v in pages[1].mediabox.upper_right] == pytest.approx(size, abs=0.05)
    assert has(pages[1], 72, 72) and has(pages[1], 60, 60)
    for page in pages:
        assert has(page, 100, 0, 2) and has(page, 101.6, 0, 2)


def test_a_large_one_lies_over_several_sheets_that_meet(visitor: Visitor, store: Store) -> None:
    """Crosses stand at the same places of both sheets: laid one on the other, the lines go on."""
    board = grooved(store)
    pages = sheets(visitor, f"/boards/{board}/paper/templates.pdf?key=gr.inner&paper=a4")
    first, second = pages[1:]
    assert "sheet A1, 1 of 2" in " ".join(first.extract_text().split())
    whole = (240 - 2 * 20 - 24, 150 - 2 * 20 - 24)  # its middle 20 in from the edges, half the bush farther
    assert has(first, *whole) and has(second, *whole)

    def crosses(page: PageObject) -> np.ndarray:
        bars = [p for p in paths(page) if len(p) == 2 and abs(np.ptp(p[:, 0]) - 8) < 0.05 and np.ptp(p[:, 1]) < 0.01]
        return np.array([p.mean(axis=0) for p in bars])

    def plate(page: PageObject) -> float:
        return next(p for p in paths(page) if abs(np.ptp(p[:, 0]) - whole[0]) < 0.1)[:, 0].min()

    one, other = crosses(first), crosses(second)
    assert len(one) == len(other) == 2
    step = one - other
    assert step == pytest.approx(np.tile([180.0, 0.0], (2, 1)), abs=0.05)  # 190 of paper less 10 of overlap
    assert plate(first) - plate(second) == pytest.approx(180.0, abs=0.05)


def test_a_printer_that_is_off_is_corrected(visitor: Visitor, store: Store) -> None:
    """One that makes 97 mm of 100 gets everything 100 ÷ 97 as large; its own ruler stays as it is."""
    board = grooved(store)
    sent = {"guided": "bush", "bush": "24", "guide_bit": "12", "ruler": "97"}
    assert visitor.post(f"/boards/{board}/paper/templates", **sent).status_code == 303
    page = sheets(visitor, f"/boards/{board}/paper/templates.pdf?key=we.opening&paper=a4")[1]
    assert has(page, 72 / 0.97, 72 / 0.97) and has(page, 100 / 0.97, 0, 2)
    (alone,) = sheets(visitor, f"/boards/{board}/paper/ruler.pdf?paper=a4")
    assert has(alone, 100, 0, 2) and not has(alone, 100 / 0.97, 0, 2)


def test_the_guide_is_set_beside_them(visitor: Visitor, store: Store) -> None:
    board = grooved(store)
    there = f"/boards/{board}/paper/templates"
    sent = {"guided": "bush", "bush": "24", "guide_bit": "12", "ruler": "100"}
    for wrong, says in (({"bush": "wide"}, "is not a length"), ({"guide_bit": "30"}, "through the guide bush"),
                        ({"ruler": "150"}, "110")):  # fmt: skip
        answer = visitor.post(there, **sent | wrong)
        text = answer.get_data(as_text=True)
        assert answer.status_code == 422 and says in text and f'value="{next(iter(wrong.values()))}"' in text
    assert "÷ 2" in visitor.get(there).get_data(as_text=True)
    visitor.post(there, **sent | {"guided": "bearing"})
    text = visitor.get(there).get_data(as_text=True)
    assert "÷ 2" not in text and "the bearing must be exactly as wide as the bit" in text


def test_nothing_to_trace_and_names_that_are_none(visitor: Visitor, store: Store) -> None:
    whole = Alternating(strips=4, slices=5).plan("Plain")
    plain = store.create(whole.model_copy(update={"stages": whole.stages[:2]}))  # a panel, no rows
    assert "Nothing here is traced" in visitor.get(f"/boards/{plain}/paper/templates").get_data(as_text=True)
    assert visitor.printed(f"/boards/{plain}/paper/templates.pdf").status_code == 404
    board = grooved(store)
    assert visitor.get(f"/boards/{board}/paper/templates.dxf?key=no.such").status_code == 404
    drawing = visitor.get(f"/boards/{board}/paper/templates.dxf?key=gr.outer")
    assert drawing.data.startswith(b"  0\nSECTION") and b"template-cut" in drawing.data
    file = visitor.get(f"/boards/{board}/paper/template.svg?key=we.opening")
    assert file.headers["Content-Disposition"].endswith('we.opening.svg"') and b"mm" in file.data


def test_everything_that_the_page_of_papers_offers_is_there(visitor: Visitor, store: Store) -> None:
    """Each address on it answers, and no file is offered twice."""
    board = grooved(store)
    page = visitor.get(f"/boards/{board}/paper").get_data(as_text=True).split("<main")[1].split("</main")[0]
    offered = [address.replace("&amp;", "&") for address in re.findall(r'(?:href|action)="(/boards/[^"]+)"', page)]
    assert len(offered) == len(set(offered)) > 15
    for address in (one for one in offered if ".pdf" not in one and "passport" not in one and "/care" not in one):
        answer = visitor.get(address)
        assert answer.status_code == 200, address
        if "download" in re.search(re.escape(address.replace("&", "&amp;")) + r'"[^>]*>', page)[0]:
            assert "attachment" in answer.headers["Content-Disposition"] and answer.data, address
    formats = {address.rpartition(".")[2] for address in offered if "." in address}
    assert {"pdf", "csv", "zip", "json"} <= formats
