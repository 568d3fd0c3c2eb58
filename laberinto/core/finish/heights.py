"""A face that is not flat yet, from its height at the four corners and in the middle."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

FLAT = 0.15
"""Nobody sees or feels less, mm."""

LITTLE = 0.3
"""Less than this still to come off a face, mm, is no flattening that lies ahead."""

CORNERS = ("far left", "far right", "near left", "near right")


@dataclass(frozen=True, slots=True)
class Heights:
    """Heights in mm over a flat table, in the order of ``CORNERS``, and of the middle where it was measured."""

    corners: tuple[float, float, float, float]
    middle: float | None = None

    @classmethod
    def of(cls, spots: Sequence[float]) -> Heights | None:
        """From four readings in the order of ``CORNERS``, and a fifth of the middle; None from fewer."""
        if len(spots) < len(CORNERS):
            return None
        far_left, far_right, near_left, near_right, *middle = spots
        return cls((far_left, far_right, near_left, near_right), *middle)

    @property
    def all(self) -> tuple[float, ...]:
        """Every height."""
        return self.corners if self.middle is None else (*self.corners, self.middle)

    @property
    def lowest(self) -> float:
        """What is left once everything higher is planed off: the lowest spot sets the depth."""
        return min(self.all)

    @property
    def apart(self) -> float:
        """From the lowest to the highest."""
        return max(self.all) - self.lowest

    @property
    def twist(self) -> float:
        """How far the far left corner stands over the plane of the other three: above 0 where far left and near right
        are high."""
        far_left, far_right, near_left, near_right = self.corners
        return far_left + near_right - far_right - near_left

    @property
    def cup(self) -> float:
        """How far the middle stands over the corners; below 0 where it is hollow."""
        return 0.0 if self.middle is None else self.middle - sum(self.corners) / 4

    @property
    def shims(self) -> tuple[str, float]:
        """Under which two corners to put how much each, so that a twisted board lies still on the sled."""
        low = (CORNERS[1], CORNERS[2]) if self.twist > 0 else (CORNERS[0], CORNERS[3])
        return " and ".join(low), abs(self.twist) / 2


def words(one: Heights, show: Callable[[float], str], to: float | None = None) -> Iterator[str]:
    """What the heights say, of a piece that is planned to end ``to`` mm thick with as much off either face."""
    named = [f"{name} {show(height)}" for name, height in zip(CORNERS, one.corners, strict=True)]
    middle = [f"middle {show(one.middle)}"] if one.middle is not None else []
    yield f"{', '.join([*named, *middle])}: {show(one.apart)} apart."
    if one.apart < FLAT:
        return
    if abs(one.twist) >= FLAT:
        where, each = one.shims
        yield f"Twisted by {show(abs(one.twist))}, so it rocks: shim {show(each)} under {where}."
    if abs(one.cup) >= FLAT:
        lies, over = ("stands", "over") if one.cup > 0 else ("lies", "below")
        yield f"The middle {lies} {show(abs(one.cup))} {over} the corners."
    yield f"The lowest spot sets the depth: flat, {show(one.lowest)} is left."
    if to is None:
        return
    planned = (max(one.all) - to) / 2
    if planned < LITTLE:
        return  # it is as thick as it is to be already
    if one.apart > planned + FLAT:
        yield f"That is {show(one.apart)} off this face, {show(one.apart - planned)} more than planned."
    elif one.apart + FLAT < planned:
        yield (
            f"Planned is {show(planned)} off each face; {show(one.apart)} gets this one flat, so the board may stay "
            f"{show(planned - one.apart)} thicker."
        )
