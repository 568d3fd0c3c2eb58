"""How wood moves with the air: moisture content from humidity, and what that does to a width.

Equilibrium moisture content by equation 4-5 of the Wood Handbook (FPL-GTR-282, 2021; Hailwood and Horrobin), for
temperature in °C and relative humidity in percent. Movement in proportion to moisture between 0 and fibre saturation
at 30 %, ibid. section “Shrinkage”.
"""

from __future__ import annotations

FIBRE_SATURATION = 30.0
"""Moisture content above which wood no longer swells, %."""

ROOM = 20.0
"""Air temperature where nothing else is known, °C."""


def moisture(humidity: float, celsius: float = ROOM) -> float:
    """Moisture content in percent that wood comes to in air of this relative humidity (0 to 100 %)."""
    h, t = humidity / 100, celsius
    w = 349 + 1.29 * t + 0.0135 * t * t
    k = 0.805 + 0.000736 * t - 0.00000273 * t * t
    k1 = 6.27 - 0.00938 * t - 0.000303 * t * t
    k2 = 1.91 + 0.0407 * t - 0.000293 * t * t
    kh = k * h
    bound = (k1 * kh + 2 * k1 * k2 * kh * kh) / (1 + k1 * kh + k1 * k2 * kh * kh)
    return 1800 / w * (kh / (1 - kh) + bound)


def swing(dry: float, damp: float, celsius: float = ROOM) -> float:
    """Change of moisture content between two humidities, percentage points."""
    return moisture(damp, celsius) - moisture(dry, celsius)


def movement(width: float, shrinkage: float, points: float) -> float:
    """How much a width (mm) across the fibres changes: ΔD = D × S/30 × ΔMC, for total shrinkage S in percent from
    green to oven-dry and a change of moisture content in percentage points."""
    return width * shrinkage / 100 / FIBRE_SATURATION * points
