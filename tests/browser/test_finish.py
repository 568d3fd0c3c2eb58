"""A board from flattening to hand-over with a pinned fault, photos and a lesson; the next board of the kind hears it. And a
wood of the shop's own, from a photo onto a face."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page
from pypdf import PdfReader

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import Store, open_database

from .conftest import Server, expect, printed

pytestmark = pytest.mark.browser

PLAN = Alternating(strips=4, strip_width=30, row=30, slices=5, panel_length=420)


@pytest.fixture
def store(server: Server) -> Store:
    return Store(open_database(server.data / "laberinto.db"))


def picture(path: Path, colour: tuple[int, int, int]) -> Path:
    """A photo of one colour with a little grain, darker at its right."""
    rng = np.random.default_rng(5)
    light = np.linspace(1.0, 0.7, 240)[None, :, None]
    pixels = (np.array(colour) + rng.normal(0, 6, (180, 240, 1))) * light
    Image.fromarray(pixels.clip(0, 255).astype(np.uint8)).save(path, "JPEG", quality=92)
    return path


def test_from_flattening_to_hand_over_and_the_next_board_hears_of_it(
    page: Page, server: Server, store: Store, tmp_path: Path
) -> None:
    plan = PLAN.plan("Skerry")
    board, todo = store.create(plan, order_for="The chart room"), steps(simulate(plan))
    ago = datetime.now(UTC) - timedelta(days=40)
    first = next(at for at, step in enumerate(todo) if step.stage == "board-flat")
    for step in todo[:first]:
        store.build(board).tick(step.key, ago)
    home = f"{server.url}/boards/{board}"

    # flattened, with the corners and the middle measured: what they say stands in the log
    page.goto(f"{home}/build")
    expect(page.locator(".bench-main h1")).to_contain_text("Flatten both faces with the drum sander")
    page.locator("#measured").fill("38.2; 37.8; 37.8; 38.2; 38")
    page.locator("#quantity").select_option("to")
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator(".bench-side")).to_contain_text("Twisted by 0.8 mm")
    expect(page.locator("svg.heights").first.locator("circle")).to_have_count(5)

    # a fault is pinned where it is pressed, knows its wood, and is mended with a photo
    page.goto(f"{home}/faults")
    drawn = page.locator("[data-pins] svg.pinned .face").bounding_box()
    assert drawn is not None
    page.mouse.click(drawn["x"] + drawn["width"] * 0.3, drawn["y"] + drawn["height"] * 0.1)
    expect(page.locator("#new h2")).to_contain_text("At strip")
    page.locator("#new select[name=fault]").select_option("void")
    page.locator("#new input[name=text]").fill("a lentil wide")
    page.get_by_role("button", name="Pin it").click()
    pin = page.locator(".fault-list > li")
    expect(pin).to_contain_text("milled at strips")
    pin.locator("input[name=mended]").fill("Plugged with end grain.")
    pin.locator("input[name=minutes]").fill("20")
    pin.locator("input[type=file]").set_input_files(picture(tmp_path / "void.jpg", (150, 110, 80)))
    pin.get_by_role("button", name="Keep").click()
    expect(page.locator(".fault-list .mended img")).to_be_visible()

    # and becomes a lesson, which the next board of the kind hears at its first flattening
    page.locator(".fault-list").get_by_role("link", name="Make it a lesson").click()
    page.locator("#kind").select_option("mill")
    page.get_by_role("button", name="Keep the lesson").click()
    other = store.create(PLAN.plan("Haven"))
    page.goto(f"{server.url}/boards/{other}/bench")
    expect(page.locator("body")).to_contain_text("Skerry taught:")

    # first and last photo, all steps ticked, and what it took and brought
    page.goto(f"{home}/build?at={todo[first].key}")
    page.locator("input[type=file]").first.set_input_files(picture(tmp_path / "flat.jpg", (190, 160, 120)))
    expect(page.locator(".photos img")).to_have_count(1)
    page.goto(f"{home}/build?at={todo[-1].key}")
    page.locator("input[type=file]").first.set_input_files(picture(tmp_path / "oiled.jpg", (130, 90, 60)))
    expect(page.locator(".photos img")).to_have_count(1)
    for step in todo[first:]:
        store.build(board).tick(step.key, ago + timedelta(days=1))
    page.goto(f"{home}/record")
    expect(page.locator(".first-and-last img")).to_have_count(2)
    expect(page.locator(".record-faults")).to_contain_text("1 fault found, 1 mended")
    page.locator("#real input[name=hours]").fill("7,5")
    page.locator("#real input[name=price]").fill("180")
    page.locator("#real").get_by_role("button", name="Keep").click()
    expect(page.locator("#real input[name=hours]")).to_have_value("7.5")
    expect(page.locator("#care")).to_contain_text("overdue")
    for press, words in (("Passport", "Skerry"), ("Care cards", "Care")):
        paper = printed(page, press)
        assert words in "".join(sheet.extract_text() for sheet in PdfReader(BytesIO(paper)).pages)
    page.goto(f"{server.url}/now")
    expect(page.get_by_role("region", name="To be oiled again")).to_contain_text("Skerry")
    page.goto(f"{server.url}/together")
    expect(page.locator(".together-boards")).to_contain_text("Skerry")
    expect(page.locator(".together-charts")).to_contain_text("Faults")


def test_a_wood_of_ones_own_from_a_photo_onto_a_face(page: Page, server: Server, store: Store, tmp_path: Path) -> None:
    """Red as no wood of the library is: it shows on the face."""
    page.goto(f"{server.url}/woods")
    page.get_by_role("link", name="New wood").click()
    page.locator("#w-name").fill("Harbour red")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator("h1")).to_have_text("Harbour red")
    page.locator("#photo-end").set_input_files(picture(tmp_path / "red.jpg", (220, 40, 30)))
    corner = page.locator("#end .corner").first
    before = page.locator("#end input[name=corners]").input_value()
    corner.focus()
    for key in ("ArrowRight", "ArrowDown"):
        page.keyboard.press(key)
    expect(page.locator("#end input[name=corners]")).not_to_have_value(before)
    page.locator("#end select[name=finish]").select_option("oiled")
    page.get_by_role("button", name="Use it").click()
    expect(page.locator("#w-oiled")).not_to_have_value("#000000")
    board = store.create(Alternating(strips=4, slices=4, light="harbour-red", dark="holly").plan("Beacon"))
    page.goto(f"{server.url}/boards/{board}?view=face")
    page.locator("canvas[data-sharp]").wait_for()
    red = page.evaluate("""() => { const c = document.querySelector('canvas.painted'); const p = c.getContext('2d')
      .getImageData(0, 0, c.width, c.height).data; let n = 0, all = 0;
      for (let k = 0; k < p.length; k += 4) if (p[k + 3]) { all += 1; if (p[k] > 120 && p[k + 1] < 80) n += 1; }
      return n / all; }""")
    assert 0.3 < red < 0.7, json.dumps(red)
