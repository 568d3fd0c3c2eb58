"""Woods: what a species is, and the library of them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from ..errors import InputError
from .model import CAUTION_TEXT, Caution, Porosity, Tone, Wood
from .species import SOURCES, SPECIES

__all__ = ["CAUTION_TEXT", "LIBRARY", "SOURCES", "Caution", "Library", "Porosity", "Tone", "Wood"]


class Library(Mapping[str, Wood]):
    """Woods by key, in the order of their names."""

    def __init__(self, woods: Iterable[Wood]) -> None:
        self._woods = {wood.key: wood for wood in sorted(woods, key=lambda w: w.name)}

    def __getitem__(self, key: str) -> Wood:
        return self._woods[key]

    def __iter__(self) -> Iterator[str]:
        return iter(self._woods)

    def __len__(self) -> int:
        return len(self._woods)

    def require(self, key: str, field: str = "") -> Wood:
        """The wood called ``key``; raises InputError, naming near matches, where there is none."""
        if key in self._woods:
            return self._woods[key]
        near = [k for k in self._woods if key and (key[:4] in k or k in key)]
        hint = f" Did you mean {' or '.join(near[:3])}?" if near else f" There are {len(self)} to choose from."
        raise InputError(f"There is no wood called “{key}” in the library.{hint}", field)

    def named(self, words: str) -> list[Wood]:
        """The woods that somebody may mean by ``words``: the one of that very name, else all whose name begins so, or
        has all of the words; several where more must be said."""
        low = " ".join(words.lower().replace("-", " ").split())
        names = {wood.key: wood.name.lower().replace("-", " ") for wood in self._woods.values()}
        exact = [key for key, name in names.items() if name == low]
        found = exact or [key for key, name in names.items() if set(low.split()) <= set(name.split())]
        found = found or [key for key, name in names.items() if name.startswith(low) or key.replace("-", " ") == low]
        return [self._woods[key] for key in found] if low else []

    def of_tone(self, tone: Tone) -> list[Wood]:
        """All woods that read as ``tone``."""
        return [wood for wood in self._woods.values() if wood.tone is tone]


LIBRARY = Library(SPECIES)
"""The woods that ship with the application."""
