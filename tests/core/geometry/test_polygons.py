"""Groups of polygons are united as each would be by itself."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import shapely

from laberinto.core.geometry import polygons as tried
from laberinto.core.geometry.polygons import by_group, closed_union, united

SQUARES: Any = np.array([shapely.box(10 * k, 0, 10 * k + 10, 10) for k in range(9)], object)
"""Nine squares of 10 × 10 in a row, each touching the next."""

GROUPS = [np.array([0]), np.array([1, 2]), np.array([3, 4, 8]), np.array([8, 7, 6, 5, 4])]


@pytest.mark.parametrize("union", [united, closed_union])
def test_groups_of_any_size_come_back_in_their_order(union: Callable[[Any], Any]) -> None:
    """One square, two, two and one apart, five: 100, 200, 300 and 500 mm² in 1, 1, 2 and 1 parts."""
    found = by_group(union, SQUARES, GROUPS)
    assert shapely.area(found) == pytest.approx([100, 200, 300, 500], abs=1e-9)
    assert shapely.get_num_geometries(found).tolist() == [1, 1, 2, 1]
    assert shapely.bounds(found)[3].tolist() == pytest.approx([40, 0, 90, 10], abs=1e-9)
    assert len(by_group(union, SQUARES, [])) == 0


def test_one_group_that_contradicts_itself_spoils_no_other(monkeypatch: pytest.MonkeyPatch) -> None:
    """Where the library gives up on a table, each of its rows is united by itself."""
    whole = shapely.union_all

    def gives_up(shapes: Any, axis: int | None = None, **options: Any) -> Any:
        if axis is not None:
            raise shapely.GEOSException("on purpose")
        return whole(shapes, **options)

    monkeypatch.setattr(tried.shapely, "union_all", gives_up)
    assert shapely.area(by_group(united, SQUARES, GROUPS)) == pytest.approx([100, 200, 300, 500])
