"""What the server does besides answering: warming, and all styles as one file."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from jinja2 import Environment, Template

from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import at_hand
from laberinto.core.stages import Crosscut
from laberinto.store import Store
from laberinto.web import create_app
from laberinto.web.app.bundles import joined
from laberinto.web.screens.patterns.draft import all_shown
from laberinto.web.serving import FIRST, compile_templates, warm

from .conftest import Visitor


@pytest.fixture
def app(tmp_path: Path) -> Flask:
    """One that nobody has asked for anything yet."""
    return create_app(tmp_path)


def test_while_nobody_asks_boards_and_the_gallery_of_this_shop_are_cut(app: Flask, store: Store) -> None:
    store.prefer("shop", json.dumps({"kerf": 2.37}))
    number = store.create(Alternating(strips=4, slices=4, strip_width=34.01).plan("Fresh"))
    broken = Alternating(strips=4, slices=4, strip_width=34.02).plan("Too thin")
    store.create(broken.with_stage(broken.stage("board-flat").model_copy(update={"to": 140.0, "each_face": None})))
    warm(app)
    board = store.board(number)
    assert board and at_hand(board.plan)
    with app.app_context():
        shown = all_shown()
    saws = [stage for plan in shown for stage in plan.stages if isinstance(stage, Crosscut)]
    assert len(shown) == len(FAMILIES) and {saw.kerf for saw in saws} == {2.37}
    assert all(at_hand(plan) for plan in shown)
    assert len(app.jinja_env.cache or ()) == len(app.jinja_env.list_templates())


def test_the_pages_opened_first_are_ready_before_anybody_asks(app: Flask) -> None:
    compile_templates(app, FIRST)
    asked: list[str] = []
    loader = app.jinja_env.loader
    assert loader
    load = loader.load

    def noted(environment: Environment, name: str, *rest: Any) -> Template:
        asked.append(name)
        return load(environment, name, *rest)

    loader.load = noted  # type: ignore[method-assign]
    visitor = Visitor(app.test_client())
    assert visitor.get("/").status_code == visitor.get("/boards/new").status_code == 200
    assert not asked
    assert visitor.get("/shop").status_code == 200 and asked  # others are looked for, so this one would have been seen


def test_every_script_of_a_page_is_one_file_in_the_order_they_count_on(app: Flask, visitor: Visitor) -> None:
    page = visitor.get("/").get_data(as_text=True)
    (script,) = re.findall(r'<script src="([^"]+)"', page)
    answer = visitor.get(script)
    assert answer.mimetype == "text/javascript" and "immutable" in answer.headers["Cache-Control"]
    text = answer.get_data(as_text=True)
    own = Path(app.static_folder or "") / "js"
    for module in own.glob("*.js"):
        if module.name not in ("turntable.js", "relief.js"):  # fetched when a solid is turned
            made = text.index(f"const m_{module.stem} = ")
            taken = [
                text.index(f"const m_{name} = ") for name in re.findall(r'from "\./(\w+)\.js"', module.read_text())
            ]
            assert all(other < made for other in taken), module.name


@pytest.mark.parametrize("line", ['import * as all from "./dom.js";', "export default 3;", "export { two };"])
def test_a_script_that_would_be_lost_in_the_bundle_is_refused(tmp_path: Path, line: str) -> None:
    (tmp_path / "main.js").write_text(f'import {{ one }} from "./one.js";\n{line}\n')
    (tmp_path / "one.js").write_text("export const one = 1;\n")
    with pytest.raises(ValueError, match="imports or exports in a way"):
        joined(tmp_path / "main.js")


PRINTED = ("paper.css", "passport.css", "calendar-paper.css", "quote.css", "book.css", "sheets.css", "labels.css")
"""Sheets that only PDFs load."""


def test_every_sheet_is_part_of_the_one_that_pages_load(app: Flask, visitor: Visitor) -> None:
    sheets = re.findall(r'<link rel="stylesheet" href="([^"]+)">', visitor.get("/").get_data(as_text=True))
    assert len(sheets) == 1
    answer = visitor.get(sheets[0])
    assert answer.mimetype == "text/css" and "immutable" in answer.headers["Cache-Control"]
    text = answer.get_data(as_text=True)
    own = Path(app.static_folder or "") / "css"
    assert {sheet.name for sheet in own.glob("*.css")} >= set(PRINTED)
    for sheet in sorted(own.glob("*.css")):
        assert (sheet.read_text() in text) == (sheet.name not in PRINTED), sheet.name
    for font in set(re.findall(r'url\("\.\./(vendor/[^"]+)"', text)):
        assert (own.parent / font).is_file(), font


def test_what_moves_while_somebody_waits_moves_in_steps(visitor: Visitor) -> None:
    """Where the processor paints, what glides takes a core and a half from who works on the answer."""
    [at] = re.findall(r'<link rel="stylesheet" href="([^"]+)">', visitor.get("/").get_data(as_text=True))
    for_ever = re.findall(r"animation:[^;}]*infinite", visitor.get(at).get_data(as_text=True).split("/* Parts that")[1])
    assert for_ever and all("steps(" in each for each in for_ever), for_ever


def test_icons_stand_in_the_page_and_are_outlines(visitor: Visitor, board: int) -> None:
    """Stroked curves would make a browser that paints with the processor take all that lies beside them more finely."""
    page = visitor.get(f"/boards/{board}").get_data(as_text=True)
    sprite = page.split("<symbol", 1)[1].rsplit("</symbol>", 1)[0]
    assert "stroke" not in sprite
    there, used = set(re.findall(r'id="(icon-[\w-]+)"', page)), set(re.findall(r'href="#(icon-[\w-]+)"', page))
    assert len(used) > 20 and used <= there, used - there
    drawing = page.split('class="drawing"')[1].split("</svg>")[0]
    assert "<line " in drawing and "<path" not in drawing


def test_addresses_of_files_name_the_release_and_answers_tell_it(app: Flask, visitor: Visitor) -> None:
    answer = visitor.get("/")
    page = answer.get_data(as_text=True)
    release = answer.headers["X-Release"]
    assert f'name="release" content="{release}"' in page and f"/static/mark.svg?v={release}" in page
    assert "immutable" in visitor.get(f"/static/mark.svg?v={release}").headers["Cache-Control"]
    assert "immutable" not in visitor.get("/static/mark.svg?v=older").headers["Cache-Control"]
    assert visitor.get("/static/js/relief.js").headers["Cache-Control"] == "no-cache"
