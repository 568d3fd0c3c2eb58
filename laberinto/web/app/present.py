"""How things are shown: the shop's units, theme and finish, and the filters that templates use."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import UTC, datetime
from functools import cache, lru_cache
from typing import Any, cast

from flask import Flask, current_app, g
from jinja2 import Undefined, pass_context
from jinja2.runtime import Context
from markupsafe import Markup

from laberinto.core import units
from laberinto.core.errors import InputError
from laberinto.core.shop import Shop
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY, Tone
from laberinto.store import Store, TimerView, in_utc

from .jobs import Jobs

UNITS = {"mm": Lengths("mm"), "in16": Lengths("in", 16), "in32": Lengths("in", 32), "in64": Lengths("in", 64)}
UNIT_WORDS = {"mm": "mm", "in16": "inches, 1/16", "in32": "inches, 1/32", "in64": "inches, 1/64"}
THEMES = ("auto", "light", "dark")
FINISHES = ("oiled", "raw")
HANDS = ("right", "left")


def store() -> Store:
    """The store of the running application."""
    return cast(Store, current_app.extensions["store"])


def jobs() -> Jobs:
    """The work under way in the running application."""
    return cast(Jobs, current_app.extensions["jobs"])


def preference(key: str) -> str:
    """How this shop likes it; read once a request."""
    defaults = {"units": "mm", "theme": "auto", "finish": "oiled", "hand": "right"}
    if "preferences" not in g:
        g.preferences = store().preferences()
    return str(g.preferences.get(key, defaults[key]))


def lengths() -> Lengths:
    """The units to read and show lengths in; looked up once a request."""
    if "lengths" not in g:
        g.lengths = UNITS.get(preference("units"), Lengths())
    return cast(Lengths, g.lengths)


def shop() -> Shop:
    """The shop's profile; read once a request."""
    if "shop" not in g:
        preference("units")  # reads what is kept
        try:
            own = json.loads(g.preferences.get("shop", "{}"))
            g.shop = Shop.of(**(_usual(preference("units")) | own))
        except (
            InputError,
            ValueError,
            TypeError,
        ):  # kept by another version: what it does not know falls back to the default
            g.shop = usual_shop()
    return cast(Shop, g.shop)


def keep_shop(shop: Shop) -> None:
    """Keep what a profile says otherwise than the usual one."""
    usual = usual_shop()
    own = {name: value for name, value in shop.model_dump().items() if value != getattr(usual, name)}
    store().prefer("shop", json.dumps(own))


def usual_shop() -> Shop:
    """The shop that has not been described yet, in round figures of the units that are shown."""
    return Shop.of(**_usual(preference("units")))


@cache
def _usual(units: str) -> dict[str, Any]:
    return Shop.usual(UNITS.get(units, Lengths())).model_dump()


def when(moment: datetime, now: datetime | None = None) -> str:
    """A moment as people say it: just now, 3 hours ago, yesterday, 12 Mar."""
    now = now or datetime.now(UTC)
    seconds = (now - in_utc(moment)).total_seconds()
    if seconds < -24 * 3600:  # written while the clock was wrong, or read while it is
        return f"{moment.day} {moment:%b %Y}, ahead of the clock"
    if seconds < 90:
        return "just now"
    if seconds < 5400:
        return f"{round(seconds / 60)} minutes ago"
    if seconds < 20 * 3600:
        hours = round(seconds / 3600)
        return f"{hours} hour{'s' if hours != 1 else ''} ago"
    days = (now.date() - moment.date()).days
    if days <= 1:
        return "yesterday"
    if days < 8:
        return f"{days} days ago"
    return f"{moment.day} {moment:%b}" + (f" {moment.year}" if moment.year != now.year else "")


def due(moment: datetime, now: datetime | None = None) -> str:
    """How long until a date, or how long past."""
    now = now or datetime.now(UTC)
    days = (moment.date() - now.date()).days
    if days < 0:
        return f"{-days} day{'s' if days != -1 else ''} overdue"
    return {0: "due today", 1: "due tomorrow"}.get(days, f"due in {days} days")


def the_day(moment: datetime) -> str:
    """A day as people say it: Tuesday 4 March."""
    return f"{moment:%A} {moment.day} {moment:%B}"


def duration(minutes: float) -> str:
    """How long work takes, to five minutes from ten on: ``8 min``, ``1 h 20 min``."""
    whole = max(round(minutes / 5) * 5 if minutes >= 10 else round(minutes), 1)
    hours, rest = divmod(whole, 60)
    return " ".join(filter(None, (f"{hours} h" if hours else "", f"{rest} min" if rest else "")))


def minutes(value: float) -> str:
    """A span of time as a timer has it: ``40 s``, ``10 min``, ``12 h``, ``2 h 30 min``."""
    if value < 1:
        return f"{round(value * 60)} s"
    if value < 10 and value != round(value):
        return f"{value:.1f} min"
    hours, rest = divmod(round(value), 60)
    return " ".join(filter(None, (f"{hours} h" if hours else "", f"{rest} min" if rest else ""))) or "0 min"


def now_ms() -> int:
    """This moment by the server's clock, in milliseconds since 1970."""
    return round(datetime.now(UTC).timestamp() * 1000)


def timers() -> list[TimerView]:
    """What runs at the bench, for every page."""
    return store().bench.timers()


def percent(share: float) -> str:
    """A share as a percentage with as many digits as it deserves."""
    return f"{share * 100:.0f} %" if share >= 0.1 else f"{share * 100:.1f} %"


def volume(cubic_mm: float) -> str:
    """A volume in litres, or in board feet where inches are used."""
    if lengths().system == "in":
        return f"{units.board_feet(cubic_mm):.2f} bf"
    return f"{units.litres(cubic_mm):.2f} l"


def per_volume(a_litre: float) -> str:
    """A price for wood, by the litre, or by the board foot where inches are used."""
    return f"{money(a_litre * lengths().scale('a litre'))} {lengths().unit('a litre')}"


def weight(kg: float) -> str:
    """A weight in kilograms, or pounds where inches are used."""
    return f"{kg * lengths().scale('kg'):.1f} {lengths().unit('kg')}"


def density(kg_m3: float) -> str:
    """A density in kg/m³, or lb/ft³ where inches are used."""
    return f"{kg_m3 * lengths().scale('kg/m³'):.0f} {lengths().unit('kg/m³')}"


def amount(value: float, unit: str) -> str:
    """A figure in a unit that is no length, as ``185 g`` or ``6.5 oz``."""
    return lengths().amount(value, unit)


def money(amount: float) -> str:
    """An amount of the shop's money; whole from a hundred on."""
    text = f"{amount:,.0f}" if abs(amount) >= 100 else f"{amount:.2f}"
    return f"{shop().currency} {text.replace(',', ' ')}"


def area(square_mm: float) -> str:
    """An area in dm² or square feet."""
    return f"{square_mm / 1e4 * lengths().scale('dm²'):.1f} {lengths().unit('dm²')}"


@lru_cache(maxsize=128)
def icon(name: str) -> Markup:
    """An icon from the sprite that stands in the page, drawn in the text's colour."""
    return Markup('<svg class="icon" aria-hidden="true"><use href="#icon-{}"></use></svg>').format(name)


def tone_options(chosen: str) -> Markup:
    """The library as the options of a select, grouped by tone, with one chosen."""
    return _tone_options(chosen, LIBRARY.state)


@lru_cache(maxsize=256)
def _tone_options(chosen: str, _state: int) -> Markup:
    option, group = Markup('<option value="{}"{}>{}</option>'), Markup('<optgroup label="{}">{}</optgroup>')
    groups = []
    for tone in Tone:
        woods = Markup("").join(
            option.format(wood.key, Markup(" selected") if wood.key == chosen else "", wood.name)
            for wood in LIBRARY.of_tone(tone)
        )
        groups.append(group.format(tone.value.capitalize(), woods))
    return Markup("").join(groups)


def _each_time(shown: Callable[..., Any]) -> Callable[..., Any]:
    """A filter that Jinja may not work out when a template is compiled, which it does with one of a constant: it would
    stay in the first visitor's units."""

    @pass_context
    def worked_out(_: Context, *given: Any) -> Any:
        return shown(*given)

    return worked_out


class Blank(Undefined):
    """What is left out where an ``if`` in a template has no ``else``. That it prints nothing is said here, so that
    nobody has to find out by an exception, some hundred times a page."""

    def __html__(self) -> str:
        return str(self)


def init(app: Flask) -> None:
    reading: dict[str, Callable[..., Any]] = {
        "mm": lambda value: lengths().show(value), "bare": lambda value: lengths().show(value, unit=False),
        "exact": lambda value, times=1: lengths().exact(value, times),
        "about": lambda value: lengths().about(value), "size": lambda values: lengths().show_size(*values),
        "when": when, "due": due, "minutes": minutes, "duration": duration, "the_day": the_day,
        "percent": percent, "volume": volume, "weight": weight,
        "density": density, "area": area, "amount": amount, "money": money, "per_volume": per_volume,
        "usual": lambda value: lengths().usual(value, coarse=True),
    }  # fmt: skip
    app.jinja_env.filters.update({name: _each_time(shown) for name, shown in reading.items()})

    app.jinja_env.globals.update(
        icon=icon, tone_options=tone_options, preference=preference, woods=LIBRARY,
        unit_words=UNIT_WORDS, themes=THEMES, unit=lambda: lengths().system, lengths=lengths,
        unit_word=lambda unit: lengths().unit(unit), timers=timers, now_ms=now_ms,
    )  # fmt: skip
