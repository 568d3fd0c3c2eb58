"""The picture's page: painting, importing, fewer panels, and the board that comes of it."""

from __future__ import annotations

import html
import io
import json
import random
import re
import time
from typing import Any

import pytest
from PIL import Image

from laberinto.core.patterns.picture import SAIL
from laberinto.store import Store

from .conftest import Visitor

PLACE = "/boards/new/picture"


def held(page: str) -> dict[str, Any]:
    """The picture that a page holds."""
    found = re.search(r'id="picture-data" value="([^"]+)"', page)
    assert found
    data: dict[str, Any] = json.loads(html.unescape(found[1]))
    return data


def start(visitor: Visitor) -> dict[str, str]:
    page = visitor.get(PLACE).get_data(as_text=True)
    return {"picture": json.dumps(held(page)), "name": "Sail", "thickness": "38", "board": "0"}


@pytest.mark.parametrize(
    ("ask", "row", "becomes"),
    [
        ({"op": "paint", "cells": "0-0,0-1", "letter": "C"}, 0, "CC" + SAIL[0][2:]),
        ({"op": "fill", "cells": "0-0", "letter": "C"}, 0, "C" * 12),
        ({"op": "mirror"}, 2, SAIL[2][::-1]),
        ({"op": "turn-over"}, 0, SAIL[9]),
        ({"op": "turn-over", "block": "1,0,2,11"}, 1, SAIL[2]),
        ({"op": "repeat", "block": "7,0,7,11"}, 3, SAIL[7]),
        ({"op": "paste", "rows": "BC,CB", "cells": "4-4"}, 4, SAIL[4][:4] + "BC" + SAIL[4][6:]),
        ({"op": "resize", "rows": "10", "columns": "14"}, 5, SAIL[5] + "AA"),
    ],
)
def test_painting(visitor: Visitor, ask: dict[str, str], row: int, becomes: str) -> None:
    answer = visitor.post(f"{PLACE}/edit", **start(visitor), **ask)
    assert answer.status_code == 200 and held(answer.get_data(as_text=True))["rows"][row] == becomes


@pytest.mark.parametrize(
    ("ask", "says"),
    [
        ({"op": "paint", "cells": "0-0", "letter": "F"}, "no wood F"),
        ({"op": "paint", "cells": "zero", "letter": "A"}, "got lost"),
        ({"op": "resize", "rows": "none", "columns": "3"}, "whole number"),
        ({"op": "resize", "rows": "97", "columns": "3"}, "1 to 96"),
        ({"op": "sizes", "width": "2"}, "outside 3 mm"),
        ({"op": "sizes", "height": "tall"}, "not a length"),
        ({"op": "wood", "letter": "A", "wood": "plywood"}, "no wood called"),
    ],
)
def test_what_cannot_be_painted_is_said_and_loses_nothing(visitor: Visitor, ask: dict[str, str], says: str) -> None:
    answer = visitor.post(f"{PLACE}/edit", **start(visitor), **ask)
    page = answer.get_data(as_text=True)
    assert answer.status_code == 422 and tuple(held(page)["rows"]) == SAIL
    if "wood" not in ask.get("op", "") and "letter" not in ask:
        assert says in page


@pytest.mark.parametrize("text", ["", "nonsense", "[]", "{}", '{"rows": ["AB"]}', "[" * 5000])
def test_a_picture_that_is_none_is_answered(visitor: Visitor, text: str) -> None:
    for path in (PLACE, f"{PLACE}/edit"):
        assert visitor.post(path, **(start(visitor) | {"picture": text})).status_code == 422
    for path in (f"{PLACE}/result", f"{PLACE}/fewer"):
        assert visitor.post(path, **(start(visitor) | {"picture": text}), most="2").status_code in (200, 422)


def test_an_image_is_laid_over_the_grid(visitor: Visitor) -> None:
    image = Image.new("L", (120, 100), 255)
    image.paste(0, (0, 0, 60, 100))
    data = io.BytesIO()
    image.save(data, "PNG")
    answer = visitor.post(
        f"{PLACE}/import", **start(visitor), image=(io.BytesIO(data.getvalue()), "a.png"), stretch="yes"
    )
    assert held(answer.get_data(as_text=True))["rows"] == ["B" * 6 + "A" * 6] * 10
    broken = visitor.post(f"{PLACE}/import", **start(visitor), image=(io.BytesIO(b"<svg/>"), "a.svg"))
    assert broken.status_code == 422 and "not a picture" in broken.get_data(as_text=True)


def test_the_result_names_panels_slices_and_the_board(visitor: Visitor) -> None:
    page = visitor.post(f"{PLACE}/result", **start(visitor)).get_data(as_text=True)
    assert "8 panels" in page and "3 slices: rows 1, 7, 10" in page and "288 × 240 × 38 mm" in page
    assert "not a length" in visitor.post(f"{PLACE}/result", **(start(visitor) | {"thickness": "x"})).get_data(
        as_text=True
    )


def test_fewer_panels_change_the_fewest_cells_and_heed_a_refusal(visitor: Visitor) -> None:
    """Rows 5 and 6 differ in two cells, and so do 4 and 5, 3 and 4, 2 and 3 or 8 and 9; as no pair differs in one, the
    best single saving is worth what the page says, and refusing one of its cells costs no less."""
    asked = start(visitor)

    def ask(**values: str) -> str:
        end = time.monotonic() + 30
        while time.monotonic() < end:
            page = visitor.post(f"{PLACE}/fewer", **asked, **values).get_data(as_text=True)
            if "Searching" not in page:
                return page
            time.sleep(0.1)
        raise AssertionError("never done")

    page = ask(most="6")
    count = re.search(r"<strong>(\d+) cells? change", page)
    cells = re.findall(r'data-keep="(\d+-\d+)"', page)
    assert count and len(cells) == int(count[1]) and "no fewer would do" in page
    refused = ask(most="6", keep=cells[0])
    assert cells[0] not in re.findall(r'data-keep="(\d+-\d+)"', refused)
    assert "whole number from 1 to 96" in visitor.post(f"{PLACE}/fewer", **asked, most="few").get_data(as_text=True)
    taken = html.unescape(re.search(r'data-take="([^"]+)"', page)[1])  # type: ignore[index]
    result = visitor.post(f"{PLACE}/result", **(asked | {"picture": taken})).get_data(as_text=True)
    assert "6 panels" in result


def test_a_search_that_is_told_enough_shows_what_it_has(visitor: Visitor) -> None:
    """Noise of three woods with three panels is searched for long; what was found before can be taken."""
    dice = random.Random(3)
    rows = ["".join(dice.choice("ABC") for _ in range(24)) for _ in range(24)]
    picture = {"rows": rows, "woods": ["sycamore", "plum", "robinia"], "widths": [12] * 24, "heights": [12] * 24}
    asked = {**start(visitor), "picture": json.dumps(picture), "most": "3"}
    page = visitor.post(f"{PLACE}/fewer", **asked).get_data(as_text=True)
    assert "Searching" in page and "Enough" in page
    end = time.monotonic() + 120
    while "Searching" in page and time.monotonic() < end:
        page = visitor.post(f"{PLACE}/fewer", **asked, stop="yes").get_data(as_text=True)
        time.sleep(0.1)
    count = re.search(r"<strong>(\d+) cells change", page)
    assert count and int(count[1]) > 100 and "no fewer would do" not in page
    taken = html.unescape(re.search(r'data-take="([^"]+)"', page)[1])  # type: ignore[index]
    changed = [
        a != b for one, row in zip(json.loads(taken)["rows"], rows, strict=True) for a, b in zip(one, row, strict=True)
    ]
    assert sum(changed) == int(count[1])
    again = visitor.post(f"{PLACE}/fewer", **asked).get_data(as_text=True)  # whoever asks again has it searched again
    assert "Searching" in again
    visitor.post(f"{PLACE}/fewer", **asked, stop="yes")


def test_a_board_is_made_and_its_picture_changed(visitor: Visitor, store: Store) -> None:
    made = visitor.post(PLACE, **start(visitor))
    assert made.status_code == 303
    (board,) = store.boards()
    page = visitor.get(f"{PLACE}?board={board.id}").get_data(as_text=True)
    assert tuple(held(page)["rows"]) == SAIL and "Change the board" in page
    painted = visitor.post(f"{PLACE}/edit", **start(visitor), op="paint", cells="0-0", letter="B").get_data(
        as_text=True
    )
    asked = start(visitor) | {"picture": json.dumps(held(painted)), "board": str(board.id)}
    assert visitor.post(PLACE, **asked).status_code == 303
    after = store.board(board.id)
    assert after and after.plan.pattern and after.plan.pattern.parameters["rows"][0] == "B" + SAIL[0][1:]
    assert after.plan.name == board.name and store.revisions(board.id).all()[0].words == "picture changed"
    plain = visitor.post(PLACE, **(start(visitor) | {"name": ""}))
    assert plain.status_code == 422 and "1 to 80 characters" in plain.get_data(as_text=True)


def test_a_board_that_is_no_picture_cannot_be_painted(visitor: Visitor, board: int) -> None:
    assert visitor.get(f"{PLACE}?board={board}").status_code == 404
    assert visitor.get(f"{PLACE}?board=999").status_code == 404
