"""The attacks of ``make harden`` in short; and that they see what is wrong."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from scripts import harden
from scripts.harden import Bounds, Part

SHORT: dict[Part, int] = {
    harden.requests: 120, harden.plans: 25, harden.uploads: 60, harden.kills: 3, harden.visitors: 2, harden.edits: 60
}  # fmt: skip


@pytest.mark.parametrize("part", harden.PARTS, ids=lambda part: part.__name__)
def test_nothing_breaks(part: Part, tmp_path: Path) -> None:
    assert set(SHORT) == set(harden.PARTS)
    report = part(Bounds(10_000, SHORT[part]), tmp_path, random.Random(11))
    assert report.wrong == [] and report.done >= SHORT[part]


def test_what_is_wrong_is_seen(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("laberinto.web.screens.board.routes.find", broken)
    monkeypatch.setattr("laberinto.web.screens.board.keeping.find", broken)
    monkeypatch.setattr(harden, "simulate", broken)
    monkeypatch.setattr(harden, "_picture", broken)
    found = harden.requests(Bounds(10_000, 120), tmp_path, random.Random(1))
    assert found.wrong and all(words.startswith("/boards/") for words in found.wrong)
    assert harden.plans(Bounds(10_000, 20), tmp_path, random.Random(1)).wrong
    assert harden.uploads(Bounds(10_000, 20), tmp_path / "more", random.Random(1)).wrong
