"""Addresses of pages: what writes them is made when one is first written, which is half of a start."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from werkzeug.routing import Rule


class AsWritten(Rule):
    """A rule whose two builders werkzeug compiles only once they are asked for. Most of hundreds never are."""

    def _compile_builder(self, append_unknown: bool = True) -> Callable[..., tuple[str, str]]:
        compiled: list[Callable[..., tuple[str, str]]] = []
        make = super()._compile_builder

        def build(rule: Rule, **values: Any) -> tuple[str, str]:
            if not compiled:
                compiled.append(make(append_unknown))
            return compiled[0](rule, **values)

        return build
