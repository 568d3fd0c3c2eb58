"""The build book: the parts that are asked for, in order, with board, revision and page on every page."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from io import BytesIO

from pypdf import PdfReader

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.demo.timber import hold, stock
from laberinto.store import Store
from laberinto.web.screens.steps.pdf import to_pdf

from .conftest import Visitor

PLAN = Alternating(strips=4, strip_width=30, row=30, slices=5, panel_length=420).plan("Skerry")


def pages(visitor: Visitor, board: int, query: str = "") -> list[str]:
    """What stands on each page."""
    answer = visitor.printed(f"/boards/{board}/paper/book.pdf{query}")
    assert answer.mimetype == "application/pdf"
    return [" ".join(page.extract_text().split()) for page in PdfReader(BytesIO(answer.data)).pages]


def test_every_page_says_board_revision_and_its_number(visitor: Visitor, store: Store) -> None:
    board = store.create(PLAN, due=datetime.now(UTC) + timedelta(days=30))
    view = store.board(board)
    assert view is not None
    found = pages(visitor, board)
    for number, text in enumerate(found, 1):
        assert f"Skerry, revision {view.revision}" in text and f"page {number} of {len(found)}" in text
    whole = " ".join(found)
    order = [whole.index(words) for words in ("Cut list", "By the calendar", "Done on")]
    assert order == sorted(order)
    assert all(step.heading in whole for step in steps(simulate(PLAN)))


def test_only_what_is_asked_for_is_in_it(visitor: Visitor, store: Store) -> None:
    board = store.create(PLAN)
    log = " ".join(pages(visitor, board, "?part=log&part=nonsense"))
    assert "Done on" in log and "planned 30 mm" in log and "Tighten them" not in log
    dates = pages(visitor, board, "?part=dates&paper=letter")
    assert len(dates) == 1 and "It is not on the calendar" in dates[0]
    first = PdfReader(BytesIO(visitor.printed(f"/boards/{board}/paper/book.pdf?part=dates&paper=letter").data)).pages[0]
    assert [round(float(side) / 72 * 25.4, 1) for side in first.mediabox.upper_right] == [215.9, 279.4]


def test_the_cut_plan_is_that_of_the_wood_that_is_held(visitor: Visitor, store: Store) -> None:
    """What is held for it is drawn plank by plank; where nothing is, that is said."""
    board = store.create(Alternating(light="hornbeam", dark="elm", strips=4, slices=5).plan("Slipway"))
    assert "No wood of the store is held" in pages(visitor, board, "?part=planks")[0]
    stock(store)
    hold(store, "Slipway")
    held = store.timber.cuts(board)[0]
    text = " ".join(pages(visitor, board, "?part=planks"))
    assert all(f"Lot {plank.stock.name}" in text for plank in held.plan.planks)
    assert text.count("crosscut") >= len(held.plan.planks) and "let the offcut go free" in text
    assert ("find no wood in what is held" in text) is bool(held.plan.short)


def test_the_paper_page_offers_every_part(visitor: Visitor, store: Store) -> None:
    page = visitor.get(f"/boards/{store.create(PLAN)}/paper").get_data(as_text=True)
    assert page.count('name="part"') == 7 and "Log pages" in page


def test_it_is_printed_in_the_background_and_says_how_far_it_is(visitor: Visitor, store: Store) -> None:
    """What is asked for by the form waits on a page of its own, and is the book then; nothing of it begins by looking
    at an address. The share only grows."""
    board = store.create(PLAN)
    at = f"/boards/{board}/paper/book.pdf"
    looked = visitor.get(at)
    assert looked.status_code == 303 and looked.headers["Location"] == f"/boards/{board}/paper"
    assert visitor.get(f"/printing/paper.book/{board}").status_code == 404
    begun = visitor.post(at, part="title", paper="a4")
    assert begun.status_code == 303 and begun.headers["Location"] == f"/printing/paper.book/{board}"
    job = visitor.client.application.extensions["jobs"].get(("paper.book", board))
    assert job.done.wait(240) and 0 < job.share <= 1  # words that follow each other too soon are passed over
    there = visitor.get(begun.headers["Location"])
    assert there.headers["Location"].endswith(f"/laberinto-{board}-book.pdf")
    part = visitor.get(begun.headers["Location"], headers={"HX-Target": "making"})
    assert part.headers["HX-Redirect"] == there.headers["Location"]
    book = PdfReader(BytesIO(visitor.get(there.headers["Location"]).data))
    assert len(book.pages) == 1 and "Skerry" in book.pages[0].extract_text()
    assert visitor.get(f"/printing/paper.book/{board}/another.pdf").status_code == 404
    shares: list[float] = []
    to_pdf("<p>One</p><p style='break-before: page'>Two</p>", shares.append)
    assert len(shares) > 4 and shares == sorted(shares) and shares[0] > 0 and shares[-1] <= 1


def test_paper_is_in_the_letters_that_ship() -> None:
    """Where a font's file is not found another is taken, and nobody says so."""
    faces = ("700 9pt Bricolage Grotesque", "400 9pt Atkinson", "700 9pt Atkinson", "400 9pt Atkinson Mono",
             "600 9pt Atkinson Mono")  # fmt: skip
    words = "".join(f"<p style='font: {face}'>Skerry</p>" for face in faces)
    page = PdfReader(BytesIO(to_pdf(f"<link rel='stylesheet' href='css/paper.css'>{words}"))).pages[0]
    fonts = {font.get_object()["/BaseFont"].split("+")[1] for font in page["/Resources"]["/Font"].values()}
    assert fonts == {
        "Bricolage-Grotesque-Bold",
        "Atkinson",
        "Atkinson-Bold",
        "Atkinson-Mono",
        "Atkinson-Mono-Semi-Bold",
    }
