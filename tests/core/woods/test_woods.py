"""The library of woods."""

import pytest

from laberinto.core.errors import InputError
from laberinto.core.woods import LIBRARY, SOURCES, Caution, Tone


def test_there_are_woods_of_every_tone_and_each_names_its_source() -> None:
    assert len(LIBRARY) >= 30
    assert all(len(LIBRARY.of_tone(tone)) >= 5 for tone in Tone)
    assert all(wood.source in SOURCES for wood in LIBRARY.values())


def test_wood_shrinks_more_along_its_rings_than_across() -> None:
    # true of every species in the tables, and the reason boards cup
    assert all(wood.tangential > wood.radial for wood in LIBRARY.values())


def test_oil_darkens() -> None:
    def light(colour: str) -> int:
        return sum(int(colour[i : i + 2], 16) for i in (1, 3, 5))

    assert all(light(wood.oiled) < light(wood.raw) for wood in LIBRARY.values())


def test_published_figures() -> None:
    # Wood Handbook FPL-GTR-282, tables 4-3 and 5-3: black locust 7.2 % and 4.6 %, 1700 lbf (7560 N)
    robinia = LIBRARY["robinia"]
    assert (robinia.tangential, robinia.radial, robinia.hardness) == (7.2, 4.6, 7560)
    # the same tables: sugar maple 9.9 % and 4.8 %, 1450 lbf (6450 N)
    maple = LIBRARY["hard-maple"]
    assert (maple.tangential, maple.radial, maple.hardness) == (9.9, 4.8, 6450)


def test_poisonous_woods_are_marked() -> None:
    assert {key for key, wood in LIBRARY.items() if Caution.NOT_UNDER_FOOD in wood.cautions} == {"yew", "laburnum"}


def test_an_unknown_wood_is_refused_with_near_names() -> None:
    with pytest.raises(InputError, match="black-walnut"):
        LIBRARY.require("walnut")
