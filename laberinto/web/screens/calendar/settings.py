"""What the calendar goes by, as this shop keeps it."""

from __future__ import annotations

import json
import secrets
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from laberinto.core.calendar.hours import Week
from laberinto.core.calendar.settings import KEY, Settings, read_settings
from laberinto.core.errors import InputError
from laberinto.store import Store


def settings(store: Store) -> Settings:
    """Those of this shop; what cannot be read falls back to the usual."""
    try:
        kept: dict[str, Any] = json.loads(store.preferences().get(KEY, "{}"))
        return read_settings(kept, str(kept.get("secret", "")))
    except (InputError, ValueError, TypeError, AttributeError):
        return Settings(Week())


def save(store: Store, typed: Mapping[str, str]) -> Settings:
    """Keep what was typed; raises InputError naming the field, and then nothing is kept."""
    found = read_settings(typed, settings(store).secret)
    _keep(store, found)
    return found


def share(store: Store, *, on: bool) -> Settings:
    """Make a new address for others to read the calendar at, so that the old one is gone; or none."""
    found = replace(settings(store), secret=secrets.token_urlsafe(24) if on else "")
    _keep(store, found)
    return found


def _keep(store: Store, found: Settings) -> None:
    store.prefer(KEY, json.dumps({**found.typed, "secret": found.secret}))
