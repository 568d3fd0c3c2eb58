"""The gallery, a pattern's form, a picture painted by mouse and by key, and a face judged and arranged."""

from __future__ import annotations

import re
from io import BytesIO

import pytest
from PIL import Image, ImageStat
from playwright.sync_api import Page

from laberinto.core.patterns import FAMILIES

from .conftest import Server, expect, settled

pytestmark = pytest.mark.browser


def label(page: Page, row: int, column: int) -> str:
    return page.locator(f"#cell-{row}-{column}").get_attribute("aria-label") or ""


def test_from_the_gallery_to_a_board_whose_pattern_changes(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new")
    expect(page.locator(".family-face .thumb")).to_have_count(len(FAMILIES))
    weave = page.locator("#family-weave a")
    weave.focus()
    expect(weave.locator(".family-machines")).to_have_css("opacity", "1")
    expect(weave).to_contain_text("3 glue-ups")
    page.keyboard.press("Enter")
    expect(page).to_have_title(re.compile("Weave"))
    red, _, blue = _middle_of_a_side(page)
    assert red > blue + 25  # wood, not the grey of the page behind it
    page.get_by_role("button", name="Strong").click()
    expect(page.locator("#n-dark")).to_have_value("wenge")
    # bars planed on two sides only: the promise breaks, and says by how much
    page.get_by_label("Turned").select_option("same-way")
    page.get_by_label("Planed off the panel").fill("2")
    expect(page.locator(".truths .fails")).to_contain_text("2 mm off")
    page.get_by_label("Planed off the panel").fill("1")
    expect(page.locator(".truths .holds")).to_have_count(1)
    page.get_by_role("button", name="Make this board").click()
    expect(page.locator("#strip-0")).to_be_visible()

    page.locator("#pattern summary").click()
    expect(page.locator("#q-pattern-rows")).to_be_visible()
    form, room = (page.locator(name).bounding_box() for name in ("#pattern .drop-body", "#room"))
    assert form and room and form["x"] >= room["x"] + room["width"]  # it leaves the drawing that it changes in sight
    page.locator("#q-pattern-rows").fill("6")
    page.keyboard.press("Tab")
    expect(page.locator(".figure.lead .figure-value")).to_have_text("286 × 214 × 38 mm")
    expect(page.locator("#q-pattern-rows")).to_have_value("6")
    page.keyboard.press("Escape")
    page.locator("#undo").click()
    expect(page.locator(".figure.lead .figure-value")).to_have_text("286 × 358 × 38 mm")


def _middle_of_a_side(page: Page) -> tuple[int, ...]:
    """The colour in the middle of the largest side that shows wood from farther along a strip."""
    settled(page)
    box = page.evaluate(
        "() => [...document.querySelectorAll('pattern[patternTransform]')]"
        '.map(p => document.querySelector(`path[fill="url(#${p.id})"]`).getBoundingClientRect())'
        ".sort((a, b) => b.width * b.height - a.width * a.height)[0].toJSON()"
    )
    middle = {"x": box["x"] + box["width"] / 2, "y": box["y"] + box["height"] / 2, "width": 4, "height": 4}
    shot = Image.open(BytesIO(page.screenshot(clip=middle))).convert("RGB")
    return tuple(round(mean) for mean in ImageStat.Stat(shot).mean)


def test_a_picture_is_painted_undone_and_made(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/picture")
    expect(page.locator("#picture-result")).to_contain_text("8 panels")
    boxes = [page.locator(f"#cell-0-{column}").bounding_box() for column in (1, 4)]
    assert all(boxes)
    one, other = boxes
    assert one and other
    page.mouse.move(one["x"] + 8, one["y"] + 8)
    page.mouse.down()
    page.mouse.move(other["x"] + 8, other["y"] + 8, steps=8)
    page.mouse.up()
    expect(page.locator("#cell-0-3")).to_have_attribute("aria-label", re.compile("B, Plum"))
    expect(page.locator("#picture-result")).to_contain_text("9 panels")
    page.keyboard.press("Control+z")
    expect(page.locator("#cell-0-3")).to_have_attribute("aria-label", re.compile("A, Sycamore"))

    # by keys alone: walk, paint, choose three and paint them, mirror
    page.locator("#cell-9-0").focus()
    page.keyboard.press("c")
    expect(page.locator("#cell-9-0")).to_have_attribute("aria-label", re.compile("C, Robinia"))
    expect(page.locator("#cell-9-0")).to_be_focused()
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowRight", "Shift+ArrowRight", "b"):
        page.keyboard.press(key)
    expect(page.locator("#cell-9-4")).to_have_attribute("aria-label", re.compile("B, Plum"))
    expect(page.locator("#picture-result")).to_contain_text("9 panels")

    # nothing is lost on reload
    page.reload()
    expect(page.locator("#cell-9-4")).to_have_attribute("aria-label", re.compile("B, Plum"))

    page.locator("#most-panels").fill("6")
    page.locator("#fewer-go").click()
    expect(page.locator("#fewer-found")).to_contain_text("no fewer would do")
    changed = page.locator(".cell.changes").count()
    assert changed > 0
    page.get_by_role("button", name="Take this picture").click()
    expect(page.locator("#picture-result")).to_contain_text("6 panels")
    page.get_by_role("button", name="Make this board").click()
    expect(page.locator(".figure.lead .figure-value")).to_have_text("288 × 240 × 38 mm")


def test_enter_in_a_field_takes_what_was_typed_and_makes_no_board(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/picture")
    expect(page.locator("#picture-result")).to_contain_text("8 panels")
    page.locator("#grid-rows").fill("7")
    page.keyboard.press("Enter")
    expect(page.locator("#cell-7-0")).to_have_count(0)
    expect(page.locator("#cell-6-0")).to_have_count(1)
    page.locator("#most-panels").fill("3")
    page.keyboard.press("Enter")
    expect(page.locator("#fewer-found")).to_contain_text("no fewer would do")
    assert page.url == f"{server.url}/boards/new/picture"


def test_an_svg_becomes_a_picture(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/picture")
    expect(page.locator("#picture-result")).to_contain_text("8 panels")
    drawing = (
        b'<svg xmlns="http://www.w3.org/2000/svg" width="120" height="100"><rect width="120" height="100" fill="#fff"/>'
        b'<rect x="60" width="60" height="100"/></svg>'
    )
    page.locator("#picture-file").set_input_files({"name": "a.svg", "mimeType": "image/svg+xml", "buffer": drawing})
    expect(page.locator("#picture-result")).to_contain_text("1 panel")
    assert "A," in label(page, 5, 0) and "B," in label(page, 5, 11)


def test_a_face_is_judged_and_arranged(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/chaos")
    page.get_by_role("button", name="Make this board").click()
    expect(page.locator("#strip-0")).to_be_visible()
    page.get_by_role("link", name="Judge").click()
    page.locator("#score-repetition").click()
    expect(page.locator("#score-repetition")).to_have_attribute("aria-current", "true")
    expect(page.locator(".judge-face svg circle")).to_have_count(2)
    page.locator("#wish-joints").select_option("avoid")
    page.get_by_role("button", name="Arrange").click()
    page.locator("#use-1").click()
    expect(page).to_have_url(re.compile("view=face"))
    page.locator("#history summary").click()
    expect(page.locator("#history-list")).to_contain_text("Arranged for me")

    page.get_by_role("link", name="Judge").click()
    page.get_by_role("link", name="Work it out").click()
    page.locator("#adopt-1").click()
    expect(page.locator("#knot-again-rip-1")).to_be_visible()
