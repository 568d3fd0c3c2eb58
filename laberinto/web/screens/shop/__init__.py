"""The shop: its machines, clamps, allowances and schools, and how it likes things shown."""

from __future__ import annotations

from contextlib import suppress
from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.asbuilt.learned import Learned, cut_minutes, learned
from laberinto.core.errors import InputError
from laberinto.core.fields import shown
from laberinto.core.shop import GROUPS, SCHOOLS, Shop
from laberinto.drawing.dots import dots
from laberinto.store import Shelf

from ...app import present, shopfields
from ...app.fields import FieldView
from ...app.present import FINISHES, HANDS, THEMES, UNITS, store
from ...app.reading import own_path

bp = Blueprint("shop", __name__, template_folder="templates")

_ALLOWED = {"units": tuple(UNITS), "theme": THEMES, "finish": FINISHES, "hand": HANDS}


@bp.post("/preference")
def prefer() -> Response:
    """Keep units, theme or finish, and go back."""
    key, value = request.form.get("key", ""), request.form.get("value", "")
    if value not in _ALLOWED.get(key, ()):
        abort(400)
    store().prefer(key, value)
    return redirect(own_path(request.form.get("back", "/").rstrip("?")))  # type: ignore[return-value]


def _page(values: dict[str, str], errors: dict[str, str]) -> str:
    usual, specs, how = present.usual_shop(), Shop.specs(), present.lengths()
    groups = {
        name: [
            FieldView(
                specs[f], values[f], errors.get(f, ""), values[f].strip() != shown(specs[f], getattr(usual, f), how)
            )
            for f in fields
        ]
        for name, fields in GROUPS.items()
    }
    shop = present.shop()
    found = _learned()
    found += cut_minutes(store().bench.paces(), shop)
    reach = {
        unit: max(0.5, *(1.1 * abs(off) for one in found if one.unit == unit for off in one.offs), 0.0)
        for unit in ("mm", "min")
    }
    drawn = [(one, Markup(dots(one, reach[one.unit]))) for one in found]
    return render_template(
        "shop/page.html", learned=drawn, groups=groups, schools=SCHOOLS, values=values,
        errors=errors, shop=shop, saved="saved" in request.args,
    )  # fmt: skip


def _learned() -> list[Learned]:
    """What readings over all boards say of the machines."""
    plans = {board.id: board.plan for shelf in Shelf for board in store().boards(shelf)}
    return learned(
        (plans[board], step, quantity, measured, planned)
        for board, step, quantity, measured, planned in store().readings()
        if board in plans
    )


@bp.post("/shop/learn")
def learn() -> Response:
    """Reckon from now on with what the readings say of one of the shop's figures."""
    now, field = present.shop(), request.form.get("field", "")
    found = (*_learned(), *cut_minutes(store().bench.paces(), now))
    better = next((to for one in found if one.field == field and (to := one.better(now)) is not None), None)
    if better is None:
        abort(404)
    with suppress(InputError):  # what no shop may have is not taken over
        present.keep_shop(Shop.of(**now.model_dump() | {field: better}))
    return cast(Response, redirect(url_for("shop.page", saved=1), 303))


@bp.app_template_filter("learned_as")
def learned_as(value: float, unit: str) -> str:
    """An offset as it is read."""
    return present.lengths().show(value) if unit == "mm" else f"{value:.1f} min"


@bp.get("/shop")
def page() -> str:
    """The profile, from which every new plan takes its defaults and every check its limits."""
    shop, how = present.shop(), present.lengths()
    return _page({name: shown(spec, getattr(shop, name), how) for name, spec in Shop.specs().items()}, {})


@bp.post("/shop")
def save() -> Response | tuple[str, int]:
    """All of it or nothing; ``reset`` goes back to the usual."""
    if request.form.get("reset"):
        store().prefer("shop", "{}")
        return cast(Response, redirect(url_for("shop.page", saved=1), 303))
    values = {name: request.form.get(name, "") for name in Shop.specs()}
    errors = shopfields.keep(tuple(values), values)
    if errors:
        return _page(values, errors), 422
    return cast(Response, redirect(url_for("shop.page", saved=1), 303))
