"""Care by finish and wood."""

from __future__ import annotations

from laberinto.core.finish.care import again_months, care, cure_days
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate


def test_what_hardens_lasts_and_what_a_nut_gives_is_said() -> None:
    plain = Alternating(strips=4, slices=4).plan("Plain")
    said = " ".join(care(simulate(plain)))
    assert again_months(plain) == 1 and cure_days(plain) == 1
    assert "every month at first" in said and "then wax" in said and "allergic" not in said and "Rags" not in said
    tung = Alternating(strips=4, slices=4, finish="tung", dark="european-walnut").plan("Tung")
    told = " ".join(care(simulate(tung)))
    assert again_months(tung) == 6 and cure_days(tung) == 30
    assert "every 6 months" in told and "pressed from a nut" in told and "Rags with this oil" in told
    assert "Common walnut: from a nut-bearing" in told
