"""What pydantic refuses, in shop words, and as an error that names the field."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from .errors import InputError

Model = TypeVar("Model", bound=BaseModel)


def checked(model: type[Model], values: Mapping[str, Any], *, fallback: str = "", say: str = "{Words}.") -> Model:
    """A model from plain values; raises InputError for the first that is not allowed.

    ``fallback`` is the field that stands for a fault of several. ``say`` is the message: ``{words}`` is what is wrong
    (``{Words}`` as a sentence begins), ``{label}`` the field's label and ``{field}`` its name.
    """
    try:
        return model.model_validate(dict(values))
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        field = str(first["loc"][0]) if first["loc"] else fallback
        known = model.model_fields.get(field)
        words = explain(first)
        texts = {"words": words, "Words": words[:1].upper() + words[1:], "label": (known and known.title) or field}
        raise InputError(say.format(field=field, **texts), field) from None


def _plain(limit: Any) -> Any:
    """A limit as one would write it: 20, not 20.0."""
    return int(limit) if isinstance(limit, float) and limit.is_integer() else limit


def explain(error: Any) -> str:
    """One pydantic error in shop words: what was given and what is allowed."""
    kind, given, ctx = error["type"], error.get("input"), error.get("ctx", {})
    text = repr(given) if isinstance(given, int | float | str) and len(str(given)) < 40 else "this value"
    allowed = {
        "missing": "is missing",
        "extra_forbidden": "is not known here; check the spelling or leave it out",
        "greater_than_equal": f"{text} is too small; at least {_plain(ctx.get('ge'))}",
        "greater_than": f"{text} is too small; it must be over {_plain(ctx.get('gt'))}",
        "less_than_equal": f"{text} is too large; at most {_plain(ctx.get('le'))}",
        "less_than": f"{text} is too large; it must be under {_plain(ctx.get('lt'))}",
        "finite_number": "is not a finite number",
        "enum": f"{text} is not one of {ctx.get('expected')}",
        "literal_error": f"{text} is not one of {ctx.get('expected')}",
        "union_tag_invalid": f"there is no stage kind {ctx.get('tag')!r}; known are {ctx.get('expected_tags')}",
        "union_tag_not_found": "a stage must say its “kind”",
        "too_long": f"too many: at most {ctx.get('max_length')}",
        "too_short": f"too few: at least {ctx.get('min_length')}",
        "string_pattern_mismatch": f"{text} may only have small letters, digits and hyphens, and starts with a letter",
        "string_too_long": f"longer than {ctx.get('max_length')} characters",
        "string_too_short": "is empty; it needs a name",
    }
    message = str(error["msg"])
    return allowed.get(kind, message.removeprefix("Value error, "))
