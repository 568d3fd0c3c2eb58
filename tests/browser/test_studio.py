"""The studio by hand: a board of two panels from nothing, rows by drag and by key, undo over a reload, a clash, the
server away, the turntable, the replay, and all of it on a tablet."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, Route

from .conftest import FRAMES, Server, expect, pick

pytestmark = pytest.mark.browser


def start(page: Page, server: Server, button: str = "Make this board") -> None:
    page.goto(f"{server.url}/boards/new/alternating")
    page.get_by_role("button", name=button).click()
    expect(page.locator("#strip-0")).to_be_visible()


def finished(page: Page, size: str) -> None:
    expect(page.locator(".figure.lead .figure-value")).to_have_text(size)


def put_in(page: Page, kind: str) -> None:
    knots = page.locator(".thread li").count()
    page.locator("#insert summary").click()
    page.locator(f'.offer[data-kind="{kind}"]').click()
    expect(page.locator(".thread li")).to_have_count(knots + 1)


def names(page: Page) -> list[str]:
    return page.locator(".rows .line-number").all_inner_texts()


def drag(page: Page, selector: str, dx: float, dy: float) -> None:
    """Take hold of the middle of something on the drawing and let go further on."""
    box = page.locator(selector).bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx / 3, y + dy / 3, steps=4)
    page.mouse.move(x + dx, y + dy, steps=6)
    page.mouse.up()


def test_what_lies_in_a_glue_up_is_arranged_by_hand(page: Page, server: Server) -> None:
    start(page, server)
    page.locator("#knot-panel").click()
    pieces = page.locator(".pieces .line")
    expect(pieces).to_have_count(10)
    marks = page.locator(".pieces .line-number")

    # turned by key, moved by key with its turn, and swapped with another
    page.locator("#piece-1").click()
    page.locator("#piece-1").press("e")
    expect(page.locator("#piece-1")).to_contain_text("end for end")
    page.locator("#piece-1").press("Alt+ArrowUp")
    expect(marks).to_have_text(["2", "1", "3", "4", "5", "6", "7", "8", "9", "10"])
    expect(page.locator("#piece-0")).to_contain_text("end for end")
    page.locator("#piece-7").click(modifiers=["Control"])
    page.locator("#piece-7").press("x")
    expect(marks).to_have_text(["8", "1", "3", "4", "5", "6", "7", "2", "9", "10"])

    # a joint stays dry, so that two panels come out of the clamps; taken back again
    page.locator("#piece-3").click()
    page.locator("#piece-3").press("d")
    expect(page.locator("#piece-3")).to_contain_text("dry behind")
    expect(page.locator(".panel-column")).to_contain_text("2 pieces")
    page.locator("#undo").click()
    expect(page.locator(".dry-behind")).to_have_count(0)

    # shifted by a typed length; what is wrong stands beside it, and nothing is lost on reload
    page.locator("#piece-2").click()
    page.locator("#shift-by").fill("wide")
    page.locator("#shift-by").press("Tab")
    expect(page.locator(".panel-column .error")).to_contain_text("“wide” is not a length")
    page.locator("#piece-2").click()
    page.locator("#shift-by").fill("-12")
    page.locator("#shift-by").press("Tab")
    expect(page.locator("#piece-2")).to_contain_text("12 mm towards you")
    page.reload()
    expect(marks).to_have_text(["8", "1", "3", "4", "5", "6", "7", "2", "9", "10"])
    page.locator("#pieces-reset").click()
    expect(marks).to_have_text(["1", "2", "3", "4", "5", "6", "7", "8", "9", "10"])
    expect(page.locator(".pieces .own")).to_have_count(0)


def test_a_board_of_two_panels_from_nothing(page: Page, server: Server) -> None:
    start(page, server, "Start from the strips alone")
    expect(page.locator(".thread li")).to_have_count(1)
    for kind in ("glue", "crosscut", "arrange", "glue"):
        put_in(page, kind)
    # 13 slices of 42 from a panel of 650; rows of 33
    finished(page, "300 × 429 × 42 mm")

    # a second panel, its lamination typed: a wrong word is shown, nothing changes, the right line draws
    page.locator("#knot-strips").click()
    page.locator("#stage-double").click()
    expect(page.locator("#knot-strips-2 .knot-panel")).to_have_text("B")
    expect(page.locator("#knot-arrange .knot-panel")).to_have_text("A + B")
    finished(page, "300 × 858 × 42 mm")
    page.locator("#line").fill("elm 60, ash 3x20, mdf")
    expect(page.locator("#line-reading mark")).to_have_text("mdf")
    page.locator("#line").fill("elm 60, ash 3x20, elm 4x45")
    expect(page.locator("#line-reading")).to_contain_text("8 strips, 300 mm")
    page.locator("#line").press("Enter")
    expect(page.locator(".strips .line")).to_have_count(8)

    # rows of both panels alternate; a seed shuffles them, and taking it away brings the rule back
    page.locator("#knot-arrange").click()
    expect(page.locator(".rows .line")).to_have_count(26)
    assert names(page)[:4] == ["A1", "B1", "A2", "B2"]
    page.get_by_label("Shuffle").fill("7")
    page.get_by_label("Shuffle").press("Tab")
    expect(page.locator("#row-0 .line-number")).not_to_have_text("A1")
    page.locator("#undo").click()
    expect(page.locator("#row-0 .line-number")).to_have_text("A1")

    # flattening is put in, switched off to compare, and on again
    page.locator("#knot-glue-2").click()
    expect(page.locator("#knot-glue-2")).to_have_attribute("aria-current", "step")
    put_in(page, "flatten")
    finished(page, "300 × 858 × 38 mm")
    page.locator("#stage-switch").click()
    finished(page, "300 × 858 × 42 mm")
    expect(page.locator(".thread li.skip")).to_have_count(1)
    page.locator("#stage-switch").click()
    finished(page, "300 × 858 × 38 mm")
    page.locator("#stage-remove").click()
    expect(page.locator("#knot-glue-2")).to_have_attribute("aria-current", "step")


def test_rows_by_drag_and_by_key_and_undo_over_a_reload(page: Page, server: Server) -> None:
    start(page, server)
    page.goto(f"{server.url}/boards/1?stage=rows&view=stage")
    pitch = page.locator('.drawing .laid-row[data-row="1"] .row-number').bounding_box()
    first = page.locator('.drawing .laid-row[data-row="0"] .row-number').bounding_box()
    assert pitch and first
    step = pitch["y"] - first["y"]

    # row 1 dragged to the fourth place on the drawing, then two rows at once by key
    drag(page, '.drawing .laid-row[data-row="0"] .row-frame', 0, step * 3)
    expect(page.locator("#row-3")).to_be_focused()
    assert names(page)[:5] == ["2", "3", "4", "1", "5"]
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Alt+ArrowUp")
    expect(page.locator("#row-2 .line-number")).to_have_text("1")
    assert names(page)[:5] == ["2", "3", "1", "5", "4"]

    # flip and roll both, shift one to the side by drag and back to the rule by key
    page.keyboard.press("u")
    expect(page.locator("#row-2")).to_contain_text("by hand")
    expect(page.locator("#row-3")).to_contain_text("by hand")
    page.locator("#row-7").click()
    drag(page, '.drawing .laid-row[data-row="7"] .row-frame', 60, 0)
    expect(page.locator("#row-7")).to_contain_text("mm right")
    page.locator("#row-7").press("c")
    expect(page.locator("#row-7")).not_to_contain_text("mm right")
    page.locator("#shift-by").fill("-15")
    page.locator("#shift-by").press("Tab")
    expect(page.locator("#row-7")).to_contain_text("15 mm left")

    # two swapped with Ctrl, over a reload, undone one by one
    page.locator("#row-0").click()
    page.locator("#row-5").click(modifiers=["Control"])
    page.locator("#row-5").press("x")
    expect(page.locator("#row-0 .line-number")).to_have_text("6")
    page.reload()
    expect(page.locator("#row-0 .line-number")).to_have_text("6")
    for _ in range(7):
        page.keyboard.press("Control+z")
    expect(page.locator("#undo")).to_be_disabled()
    assert names(page)[:5] == ["1", "2", "3", "4", "5"]
    expect(page.locator(".rows .own")).to_have_count(0)
    page.reload()
    expect(page.locator("#undo")).to_be_disabled()
    page.locator("#redo").click()
    expect(page.locator("#row-3 .line-number")).to_have_text("1")


def test_strips_on_the_drawing(page: Page, server: Server) -> None:
    start(page, server)
    page.goto(f"{server.url}/boards/1?stage=strips&view=stage")
    # the first strip is dragged behind the third; the right edge of the first made wider
    one, two = (page.locator(f'.drawing .piece[data-piece="{k}"] .edge-handle').bounding_box() for k in (0, 1))
    assert one and two
    pitch = two["x"] - one["x"]
    drag(page, '.drawing .piece[data-piece="0"] .piece-number', pitch * 2, 0)
    expect(page.locator("#strip-2")).to_be_focused()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Plum, heart"))
    drag(page, '.drawing .piece[data-piece="0"] .edge-handle', pitch * 20 / 37, 0)
    expect(page.locator("#width-0")).not_to_have_value("30")
    width = float(page.locator("#width-0").input_value())
    assert 46 <= width <= 54 and width * 2 == int(width * 2)  # about 20 mm more, to half a millimetre

    # many at once: woods by letter, sawn, rings over the panel
    page.locator("#strip-0 .line-number").click()
    page.locator("#strip-3 .line-number").click(modifiers=["Shift"])
    page.locator("#strip-3").press("Shift+A")
    for k in range(4):
        expect(page.locator(f"#strip-{k}")).to_have_attribute("aria-label", re.compile(f"^Strip {k + 1}, Beech, heart"))
    page.locator("#strip-tools summary").click()
    page.get_by_role("button", name="Quarter").click()
    expect(page.locator("#strip-3")).to_contain_text("quarter sawn")
    page.locator("#ring-tools summary").click()
    page.get_by_role("button", name="Alternate").click()
    expect(page.locator("#strip-1")).to_contain_text("face over")

    # one wood for another everywhere, from the palette
    page.keyboard.press("Escape")
    page.locator("#woods summary").click()
    expect(page.locator(".contrast")).to_contain_text("reads across a room")
    pick(page.get_by_label("Replace Plum everywhere"), "elm")
    expect(page.locator(".palette")).to_contain_text("Wych elm")


def test_a_clash_in_two_tabs_is_told_and_settled(page: Page, server: Server) -> None:
    start(page, server)
    other = page.context.new_page()
    other.goto(page.url)
    pick(page.locator("#wood-0"), "ash")
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))
    pick(other.locator("#wood-1"), "elm")
    expect(other.locator(".clash")).to_contain_text("Meanwhile: strip 1: ash")
    expect(other.locator(".clash")).to_contain_text("wych elm comes in")
    other.locator("#put-mine").click()
    expect(other.locator("#strip-1")).to_have_attribute("aria-label", re.compile("^Strip 2, Wych elm, heart"))
    expect(other.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))


def test_an_edit_made_while_the_server_is_away_is_sent_when_it_is_back(page: Page, server: Server) -> None:
    start(page, server)
    server.stop(hard=True)
    pick(page.locator("#wood-0"), "ash")
    expect(page.locator("#away")).to_contain_text("Your edit is kept here")
    server.start()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))
    expect(page.locator("#away")).to_be_hidden()
    page.reload()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))


def test_a_page_fetched_while_an_edit_was_under_way_shows_it_all_the_same(page: Page, server: Server) -> None:
    start(page, server)
    before = page.request.get(page.url).text()
    pick(page.locator("#wood-0"), "ash")
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))
    # what the server drew before the edit was saved arrives only now
    page.route(page.url, lambda route: route.fulfill(body=before, content_type="text/html"), times=1)
    page.reload()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))
    page.locator("#undo").click()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Beech, heart"))


def test_what_cannot_be_built_keeps_the_last_face(page: Page, server: Server) -> None:
    start(page, server)
    page.get_by_label("Strip length").fill("200")
    page.get_by_label("Strip length").press("Tab")
    expect(page.locator(".mend")).to_contain_text("Crosscut cannot be done as it stands")
    finished(page, "294 × 384 × 38 mm")
    expect(page.locator("#knot-slices .mark-fault")).to_be_visible()
    page.get_by_role("link", name="Go there").click()
    expect(page.get_by_role("alert")).to_contain_text("or cut 4 slices")
    page.get_by_role("button", name="Take it back").click()
    expect(page.locator(".mend")).to_have_count(0)


def colours(page: Page) -> int:
    """How many different colours the turntable's canvas shows."""
    return page.evaluate(
        """() => { const from = document.querySelector('#turntable canvas');
        const to = document.createElement('canvas'); to.width = 60; to.height = 60;
        const c = to.getContext('2d'); c.drawImage(from, 0, 0, 60, 60);
        const p = c.getImageData(0, 0, 60, 60).data; const seen = new Set();
        for (let k = 0; k < p.length; k += 4) if (p[k + 3] > 200) seen.add((p[k] >> 3) * 1024 + (p[k + 1] >> 3) * 32 + (p[k + 2] >> 3));
        return seen.size; }"""
    )


def test_the_turntable_shows_wood_and_turns(page: Page, server: Server) -> None:
    start(page, server)
    page.locator("#view-round").click()
    expect(page.locator("#turntable[data-shown=yes] canvas")).to_be_visible()
    assert colours(page) > 30
    before = page.evaluate("document.querySelector('#turntable canvas').toDataURL()")
    page.locator("#turntable canvas").press("ArrowLeft")
    page.evaluate(FRAMES)
    assert page.evaluate("document.querySelector('#turntable canvas').toDataURL()") != before
    # another stage is read from its beginning, while the same board goes on turning
    page.locator(".panel-column").evaluate("panel => { panel.scrollTop = 300; }")
    page.locator("#knot-rows").click()
    expect(page.get_by_role("heading", name="Stand up and arrange the slices")).to_be_visible()
    expect(page.locator("#room.turned #turntable canvas")).to_be_visible()
    assert page.locator(".panel-column").evaluate("panel => panel.scrollTop") == 0


def test_without_webgl_the_drawing_from_a_corner_stays(page: Page, server: Server) -> None:
    page.add_init_script("HTMLCanvasElement.prototype.getContext = function (kind) { return null; };")
    start(page, server)
    page.locator("#view-round").click()
    expect(page.locator("#turntable[data-shown=no]")).to_be_hidden()
    expect(page.locator("#room > svg.drawing")).to_be_visible()


def test_the_plan_is_acted_out_and_stepped_through(page: Page, server: Server) -> None:
    page.emulate_media(reduced_motion="reduce")
    start(page, server)
    page.locator("#play").click()
    expect(page.locator("#replay-words")).to_contain_text("Mill the strips: 10 pieces")
    page.keyboard.press("ArrowRight")
    expect(page.locator("#replay-words")).to_contain_text("Glue up")
    expect(page.locator("#replay-stage .part")).to_have_count(10)
    page.keyboard.press("Escape")
    expect(page.locator("#replay")).to_have_count(0)


def test_a_board_of_many_cells_is_painted_and_zooms(page: Page, demo_server: Server) -> None:
    page.goto(f"{demo_server.url}/boards/5?view=face")
    canvas = page.locator("canvas.painted")
    expect(canvas).to_have_attribute("data-painted", re.compile(r"^[4-9]\d\d$"))
    before = page.locator("#room > svg").get_attribute("viewBox")
    page.mouse.move(560, 400)
    page.mouse.wheel(0, -600)
    expect(page.locator("#room > svg")).not_to_have_attribute("viewBox", before or "")
    page.keyboard.press("0")
    expect(page.locator("#room > svg")).to_have_attribute("viewBox", before or "")
    # the ruler reads the drawn size, in the maker's units
    page.keyboard.press("r")
    for _ in range(10):
        page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("#ruler-line text")).to_have_text("100 mm")
    page.keyboard.press("Escape")
    expect(page.locator("#ruler-line")).to_have_count(0)


def test_what_an_answer_brings_again_loses_what_was_not_sent_and_keeps_where_one_types(
    page: Page, server: Server
) -> None:
    """Typed or chosen past the keys, so that no edit was made of it: after another edit each shows what the plan says."""
    start(page, server)
    page.evaluate("""() => {
      document.querySelector("#width-0").value = "77";
      document.querySelector("#board-name").value = "Half";
      document.querySelector("#parameters select").selectedIndex = 1;
    }""")
    page.locator("#strip-3 .line-number").click()
    page.locator("#line").focus()
    page.locator('[data-op="strip-face-over"]').dispatch_event("click")
    expect(page.locator("#strip-3 .line-turn")).to_contain_text("face over")
    expect(page.locator("#width-0")).to_have_value("30")
    expect(page.locator("#board-name")).not_to_have_value("Half")
    assert page.evaluate("document.querySelector('#parameters select').selectedIndex") == 0
    expect(page.locator("#line")).to_be_focused()


def test_the_far_end_of_a_long_list_is_within_reach(page: Page, server: Server) -> None:
    start(page, server)
    page.locator("#line").fill("elm 20x20, ash 20x20")
    page.locator("#line").press("Enter")
    page.locator("#knot-panel").click()
    expect(page.locator(".pieces .line")).to_have_count(40)
    page.locator("#piece-39 .line-number").click()  # laid out after the rest
    page.locator("#piece-39").press("e")
    expect(page.locator("#piece-39")).to_contain_text("end for end")
    expect(page.locator("#piece-39 .line-words")).to_be_visible()


def test_a_press_is_not_lost_where_its_button_is_drawn_anew_meanwhile(page: Page, server: Server) -> None:
    start(page, server)
    knots = page.locator(".thread li").count()
    late: list[Route] = []
    page.route("**/boards/*?stage=panel*", lambda route: late.append(route))
    with page.expect_request("**/boards/*?stage=panel*"):
        page.locator("#knot-panel").click()
    page.locator("#stage-double").hover()
    page.mouse.down()
    late[0].continue_()
    expect(page.locator("#panel")).to_have_attribute("data-stage", "panel")
    page.mouse.up()
    expect(page.locator(".thread li")).not_to_have_count(knots)


def test_back_and_forward_show_the_whole_page_as_it_was_looked_at(page: Page, server: Server) -> None:
    start(page, server)
    page.locator("#knot-panel").click()
    expect(page.locator("#knot-panel")).to_have_attribute("aria-current", "step")
    page.locator("#view-edges").click()
    expect(page.locator("#room")).to_have_attribute("data-view", "edges")
    expect(page).to_have_url(re.compile("stage=panel&view=edges"))  # it is written down after the picture
    for go, view in ((page.go_back, "face"), (page.go_forward, "edges"), (page.go_back, "face")):
        go()
        expect(page.locator("#room")).to_have_attribute("data-view", view)
        expect(page.locator("#knot-panel")).to_have_attribute("aria-current", "step")
        expect(page.locator("#room canvas.painted[data-painted]")).to_have_count(1)
        expect(page.get_by_role("banner")).to_be_visible()
    page.locator("#knot-strips").click()  # and it goes on from there
    expect(page.locator("#strip-0")).to_be_visible()


def test_a_drawing_on_show_is_not_sent_again(page: Page, server: Server) -> None:
    """Another stage has the same face: it comes without it, as long as the drawing is as it was sent. What was laid over it
    goes with the next answer, and what it was zoomed to stays as long as one looks at the same."""
    start(page, server)
    sent: list[str] = []
    page.on("response", lambda answer: sent.append(answer.text()) if "stage=" in answer.url else None)

    def look(stage: str) -> bool:
        before = len(sent)
        page.locator(f"#knot-{stage}").click()
        expect(page.locator(f"#knot-{stage}")).to_have_attribute("aria-current", "step")
        expect(page.locator("#room > svg.drawing .laid-row")).to_have_count(13)
        return 'id="painting"' in sent[before]

    def box() -> list[float]:
        return [float(v) for v in (page.locator("#room > svg.drawing").get_attribute("viewBox") or "").split()]

    whole = box()
    assert not look("panel")
    assert page.locator("canvas.painted").count() == 1

    # zoomed, it is still the same; another stage shows it whole
    page.locator("#zoom-in").click()
    expect(page.locator("#room > svg.drawing.zoomed")).to_have_count(1)
    assert not look("slices")
    expect(page.locator("#room > svg.drawing.zoomed")).to_have_count(0)
    assert box() == pytest.approx(whole, abs=0.01)

    # measured with the ruler it is sent anew, and the line is gone
    page.keyboard.press("r")
    expect(page.locator("#ruler-line")).to_have_count(1)
    assert look("rows")
    expect(page.locator("#ruler-line")).to_have_count(0)
    page.keyboard.press("r")

    # an edit changes it, and taking that back brings the one before
    page.locator("#knot-strips").click()
    first = page.locator("#room").get_attribute("data-drawing")
    page.locator("#width-2").fill("33.5")
    page.locator("#width-2").press("Tab")
    expect(page.locator("#room")).not_to_have_attribute("data-drawing", str(first))
    page.locator("#undo").click()
    expect(page.locator("#room")).to_have_attribute("data-drawing", str(first))


def test_what_is_typed_is_worked_out_before_the_field_is_left(page: Page, server: Server) -> None:
    start(page, server)
    for field, text in (("#width-1", "36.25"), ("#parameters [name=thickness]", "31.5")):
        with page.expect_response("**/edit/ahead") as told:
            page.locator(field).fill(text)
        assert told.value.status == 204
        with page.expect_response("**/edit") as sent:
            page.locator(field).press("Tab")
        assert sent.value.status == 200
        expect(page.locator(field)).to_have_value(text)


def test_arrow_keys_step_a_figure_and_no_press_is_lost(page: Page, server: Server) -> None:
    start(page, server)
    width, thickness = page.locator("#width-2"), page.locator("#parameters [name=thickness]")
    width.fill("30")
    width.press("ArrowUp")
    expect(width).to_have_value("31")
    expect(width).to_be_focused()
    width.press("Shift+ArrowDown")
    for _ in range(7):  # faster than the answers come
        width.press("ArrowUp")
    width.press("Tab")
    expect(width).to_have_value("28")
    undone = page.locator("#undo")
    with page.expect_response("**/undo"):
        undone.click()
    expect(width).not_to_have_value("28")
    now = float(thickness.input_value())
    thickness.press("ArrowDown")
    expect(thickness).to_have_value(f"{now - 1:g}")
    width.fill("thin")
    width.press("ArrowUp")
    expect(page.locator("#strip-2 .error")).to_contain_text("“thin” is not a length")


def test_variants_and_history(page: Page, server: Server) -> None:
    start(page, server)
    page.locator("#board-menu > summary").click()
    page.locator("#pin").click()
    expect(page.locator("#variant-A")).to_be_visible()
    expect(page.locator("#room > canvas.painted")).to_be_visible()  # the menu's own forms leave the drawing, too
    page.keyboard.press("Escape")
    pick(page.locator("#wood-0"), "elm")
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Wych elm, heart"))
    page.locator("#board-menu > summary").click()
    page.locator("#pin").click()
    expect(page.locator("#variant-B")).to_be_visible()
    page.locator("#variant-A").click()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Beech, heart"))
    expect(page.locator("#variant-A")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Escape")
    pick(page.locator("#wood-0"), "ash")
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))
    page.locator("#board-menu > summary").click()  # it was not sent again, and knows the revision all the same
    page.locator("#board-name").fill("Another name")
    page.locator("#board-name").press("Enter")
    expect(page.locator("#board-menu > summary")).to_contain_text("Another name")
    page.locator("#board-menu > summary").click()
    page.get_by_role("link", name="Compare A with B").click()
    expect(page.locator(".compare-words")).to_contain_text("wych elm comes in, 1 strip")


def test_on_a_tablet_by_touch(page: Page, server: Server) -> None:
    page.set_viewport_size({"width": 1024, "height": 768})
    start(page, server)
    page.goto(f"{server.url}/boards/1?stage=rows&view=stage")
    drawing = page.locator("#room > svg").bounding_box()
    assert drawing and drawing["width"] > 420 and drawing["height"] > 400
    wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
    assert wide <= 0
    # a finger drags a row: pointer events as a touch screen sends them
    page.evaluate(
        """() => { const row = document.querySelector('.drawing .laid-row[data-row="0"] .row-frame');
        const next = document.querySelector('.drawing .laid-row[data-row="2"] .row-frame');
        const a = row.getBoundingClientRect(); const b = next.getBoundingClientRect();
        const send = (kind, y) => row.dispatchEvent(new PointerEvent(kind, {bubbles: true, pointerId: 7, pointerType: 'touch',
          button: 0, isPrimary: true, clientX: a.x + a.width / 2, clientY: y}));
        send('pointerdown', a.y + a.height / 2);
        for (let k = 1; k <= 6; k += 1) send('pointermove', a.y + (b.y + b.height * 0.8 - a.y) * k / 6);
        send('pointerup', b.y + b.height * 0.8); }"""
    )
    expect(page.locator("#row-2 .line-number")).to_have_text("1")


def test_enter_sends_a_width_once_and_edits_leave_nothing_behind(page: Page, server: Server) -> None:
    start(page, server)
    page.goto(f"{server.url}/boards/1?stage=strips&view=face")
    tool = page.context.new_cdp_session(page)

    def held() -> int:
        tool.send("HeapProfiler.collectGarbage")
        return int(tool.send("Memory.getDOMCounters")["nodes"])

    def type_width(width: int) -> None:
        page.locator("#width-1").fill(str(width))
        page.locator("#width-1").press("Enter")
        expect(page.locator("#undo")).to_be_enabled()
        expect(page.locator("#strip-1 .measure")).to_have_attribute("value", str(width))

    type_width(20)
    lines = page.request.get(f"{server.url}/boards/1/history?stage=strips&view=face").text().count("<li")
    assert lines == 2  # as it was started, and the one width
    before = held()
    for k in range(12):
        type_width(21 + k % 2)
    assert held() < 1.5 * before
