"""Woods: what a species is, and the library of them."""

from __future__ import annotations

import zlib
from collections.abc import Iterable, Iterator, Mapping

from ..errors import InputError
from .model import CAUTION_TEXT, Caution, Porosity, Tone, Wood
from .species import SOURCES, SPECIES

__all__ = ["CAUTION_TEXT", "LIBRARY", "SOURCES", "Caution", "Library", "Porosity", "Tone", "Wood"]


class Library(Mapping[str, Wood]):
    """Woods by key, in the order of their names: those that ship with the application, and a shop's own, which may take
    the place of one of them."""

    def __init__(self, woods: Iterable[Wood]) -> None:
        self._ours = {wood.key: wood for wood in woods}
        self.own: dict[str, Wood] = {}
        self.state = 0
        self.take_in(())

    def take_in(self, own: Iterable[Wood]) -> None:
        """The shop's own woods from now on. ``state`` is another number each time they change."""
        taken = {wood.key: wood for wood in own}
        every = {**self._ours, **taken}
        self._woods = {wood.key: wood for wood in sorted(every.values(), key=lambda w: w.name)}
        self.state = zlib.crc32(repr(sorted(taken.items())).encode()) if taken else 0
        self.own = taken

    def ships(self, key: str) -> bool:
        """Whether a wood of that key ships with the application."""
        return key in self._ours

    def signed(self, key: str) -> str:
        """A key with a mark that is another whenever a wood of the shop's own changes: what is drawn of it can be kept
        under that name for good."""
        wood = self.own.get(key)
        return f"{key}~{zlib.crc32(repr(wood).encode()):x}" if wood else key

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
