"""What leaves the screen: a book and a template printed, a board into an empty shop, a groove carved."""

from __future__ import annotations

import base64
import re
from contextlib import suppress
from pathlib import Path

import pytest
from playwright.sync_api import Error, Page
from pypdf import PdfReader

from laberinto.core.patterns import Alternating
from laberinto.core.stages import Groove, Well
from laberinto.store import Store, open_database

from .conftest import Server, expect

pytestmark = pytest.mark.browser


def grooved(server: Server) -> int:
    """A board with a groove and a well, in the served shop."""
    plan = Alternating(strips=6, strip_width=30, row=30, slices=5, width=160, length=120).plan("Skerry")
    more = (
        Groove(id="gr", source=plan.stages[-1].id, inset=15, width=12, depth=5),
        Well(id="we", source="gr", inset=30),
    )
    store = Store(open_database(server.data / "laberinto.db"))
    return store.create(plan.model_copy(update={"stages": (*plan.stages, *more)}))


def saved(page: Page, press: str) -> bytes:
    """What a press downloads, or opens as a PDF beside."""
    link = page.locator(press).first
    with page.expect_download() as started:
        link.evaluate("el => { el.removeAttribute('target'); el.setAttribute('download', ''); }")
        link.click()
    return Path(started.value.path()).read_bytes()


def test_a_book_and_a_template_are_printed(page: Page, server: Server, tmp_path: Path) -> None:
    board = grooved(server)
    page.goto(f"{server.url}/boards/{board}/paper")
    page.get_by_role("link", name="Templates", exact=True).click()
    expect(page.locator(".true-size-card")).not_to_have_count(0)
    page.get_by_label("Guide bush").fill("12")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator(".error")).to_contain_text("through the guide bush")
    page.get_by_label("Guide bush").fill("30")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_text("For a bush of 30 mm and a bit of 12 mm its edge lies 9 mm").first).to_be_visible()
    drawing = saved(page, "a[href*='template.svg'][href*='we.opening']")
    assert b"mm" in drawing and b"<path" in drawing
    word = page.locator("input[name=csrf_token]").first.input_value()
    for address in ("templates.pdf?key=we.opening&paper=a4", "book.pdf?part=title&part=cuts&paper=a4"):
        answer = page.request.post(f"{server.url}/boards/{board}/paper/{address}", form={"csrf_token": word})
        with page.expect_response("**/*.pdf") as made, suppress(Error):  # a browser without a viewer breaks off there
            page.goto(answer.url)  # which says how far it is
        (tmp_path / "one.pdf").write_bytes(page.request.get(made.value.url).body())
        assert "Skerry" in PdfReader(tmp_path / "one.pdf").pages[0].extract_text()


def test_a_board_goes_into_an_empty_shop_by_hand(page: Page, server: Server, tmp_path: Path) -> None:
    """Saved whole, removed here, and dropped on the window: it is shown first, and then it is the same board."""
    board = grooved(server)
    page.goto(f"{server.url}/boards/{board}/paper")
    whole = saved(page, "a[href$='board.laberinto.zip']")
    Store(open_database(server.data / "laberinto.db")).delete(board)
    page.goto(f"{server.url}/timber")
    file = tmp_path / "skerry.laberinto.zip"
    file.write_bytes(whole)
    page.evaluate(
        """bytes => {
          const moved = new DataTransfer();
          moved.items.add(new File([Uint8Array.from(atob(bytes), c => c.charCodeAt(0))], 'skerry.laberinto.zip'));
          document.body.dispatchEvent(new DragEvent('dragenter', { dataTransfer: moved, bubbles: true }));
          window.moved = moved;
        }""",
        base64.b64encode(whole).decode(),
    )
    expect(page.locator("#drop-cover")).to_be_visible()
    page.evaluate(
        "document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: window.moved, bubbles: true, cancelable: true }))"
    )
    page.wait_for_url(re.compile("/boards/coming/"))
    expect(page.locator("h1")).to_have_text("Skerry")
    page.get_by_role("button", name="Bring it in").click()
    page.wait_for_url(re.compile(r"/boards/\d+$"))
    expect(page.locator(".board-name")).to_contain_text("Skerry")


def test_a_groove_is_carved_held_and_judged(page: Page, server: Server) -> None:
    board = grooved(server)
    page.goto(f"{server.url}/boards/{board}/cnc")
    for box in page.locator("input[name=stage]").all():
        box.set_checked(box.get_attribute("value") == "gr")
    page.get_by_role("button", name="Draw it").click()
    page.wait_for_url(re.compile("stage=gr"))
    expect(page.locator(".cnc-cuts li")).to_have_count(1)
    page.get_by_role("button", name="Carve it here").click()
    expect(page.locator(".carving-answer")).to_contain_text("Nothing gouged")
    expect(page.locator("img.deviation")).to_be_visible()
    page.reload()
    expect(page.locator("img.deviation")).to_be_visible()  # nothing is lost on reload
    page.get_by_label("Clamps").fill("0 × 40 × 25 × 30 × 15")
    page.get_by_role("button", name="Carve it here").click()
    expect(page.locator("#carving [role=alert]")).to_contain_text("runs into a clamp")
