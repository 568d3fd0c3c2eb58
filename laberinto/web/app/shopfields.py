"""Some fields of the shop on another screen: shown, read and kept all or none."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from laberinto.core.errors import InputError
from laberinto.core.fields import parse, shown
from laberinto.core.shop import Shop

from . import present
from .fields import FieldView


def fields(names: Sequence[str], errors: Mapping[str, str], typed: Mapping[str, str]) -> list[FieldView]:
    """How they stand in a form: what was typed and what is wrong with it, else what is kept."""
    shop, how, specs = present.shop(), present.lengths(), Shop.specs()
    return [
        FieldView(specs[name], typed.get(name, shown(specs[name], getattr(shop, name), how)), errors.get(name, ""))
        for name in names
    ]


def keep(names: Sequence[str], typed: Mapping[str, str]) -> dict[str, str]:
    """Keep them; what is wrong by field, and then nothing was kept. Text left alone keeps the exact value behind it."""
    shop, how, specs = present.shop(), present.lengths(), Shop.specs()
    errors: dict[str, str] = {}
    new: dict[str, Any] = {}
    for name in names:
        kept = getattr(shop, name)
        try:
            same = typed.get(name, "").strip() == shown(specs[name], kept, how)
            new[name] = kept if same else parse(specs[name], typed.get(name, ""), how)
        except InputError as error:
            errors[name] = error.say(how)
    if not errors:
        try:
            present.keep_shop(Shop.of(**shop.model_dump() | new))
        except InputError as error:
            errors[error.field] = error.say(how)
    return errors
