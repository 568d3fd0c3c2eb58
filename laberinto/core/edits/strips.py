"""Edits to the strips of a panel. Positions count from 0, in panel order."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ..errors import InputError
from ..plan.model import Plan
from ..stages import Glue, Mill, StripSpec
from ..stages.mill import MOST_STRIPS, StripTurn
from ..woods import LIBRARY
from ..woods.strips import Sawn
from .model import LEFT, Edit


def _mill(plan: Plan, stage_id: str) -> tuple[Mill, list[StripSpec]]:
    stage = plan.stage(stage_id)
    if not isinstance(stage, Mill):
        raise InputError(f"Stage “{stage_id}” mills no strips.")
    return stage, stage.laid_out()


def laid(plan: Plan, stage: Mill, strips: Sequence[StripSpec], words: str) -> Edit:
    """The plan with these strips in the panel; raises InputError where there are none or too many."""
    if not strips:
        raise InputError("A panel needs at least one strip.", "strips")
    if len(strips) > MOST_STRIPS:
        raise InputError(f"A panel takes at most {MOST_STRIPS} strips.", "strips")
    before = len(stage.laid_out())
    made = plan.with_stage(stage.model_copy(update={"strips": tuple(strips)}))
    glue = next((other for other in made.stages if other.sources == (stage.id,)), None)
    if not isinstance(glue, Glue) or not glue.dry or before == len(strips):
        return Edit(made, words)
    return Edit(made.with_stage(glue.model_copy(update={"dry": _dry(glue.dry, before, len(strips))})), words)


def _dry(dry: Sequence[int], before: int, now: int) -> tuple[int, ...]:
    """Which joints stay dry among another number of strips: bars of so many strips each stay so, any other joints where
    they are, as far as there are strips."""
    each = min(dry)
    if list(dry) == list(range(each, before, each)):
        return tuple(range(each, now, each))
    return tuple(joint for joint in dry if joint < now)


def _check(strips: Sequence[StripSpec], chosen: Sequence[int]) -> None:
    wrong = next((at for at in chosen if not 0 <= at < len(strips)), None)
    if wrong is not None or not chosen:
        raise InputError(f"There is no strip {(wrong or 0) + 1}; the panel has {len(strips)}.", "strips")


def _named(chosen: Sequence[int]) -> str:
    return f"strip{'s' if len(chosen) > 1 else ''} {', '.join(str(at + 1) for at in sorted(chosen))}"


def _each(
    plan: Plan, stage_id: str, chosen: Sequence[int], change: Callable[[StripSpec], StripSpec], words: str
) -> Edit:
    """The same change to every chosen strip."""
    stage, strips = _mill(plan, stage_id)
    _check(strips, chosen)
    for at in chosen:
        strips[at] = change(strips[at])
    return laid(plan, stage, strips, words)


def move(plan: Plan, stage_id: str, chosen: Sequence[int], to: int) -> Edit:
    """Move strips, kept together, so that the first lies at ``to``; the others close up."""
    stage, strips = _mill(plan, stage_id)
    _check(strips, chosen)
    moved = [strips[at] for at in sorted(chosen)]
    rest = [strip for at, strip in enumerate(strips) if at not in chosen]
    to = max(0, min(to, len(rest)))
    rest[to:to] = moved
    return laid(plan, stage, rest, f"{_named(chosen)} moved to {to + 1}")


def remove(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Take strips out."""
    _, strips = _mill(plan, stage_id)
    _check(strips, chosen)
    woods = dict.fromkeys(strips[at].wood for at in chosen)
    return _without(plan, stage_id, chosen, f"{_named(chosen)} ({', '.join(woods)}) removed")


def leave_out(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Take strips out that were ruined: the panel comes out narrower by them, unless they are made again."""
    _, strips = _mill(plan, stage_id)
    _check(strips, chosen)
    ends = ", ".join(f"{strips[at].mark} ({strips[at].wood})" for at in sorted(chosen))
    return _without(plan, stage_id, chosen, f"{LEFT}strip{'s' if len(chosen) > 1 else ''} {ends}")


def _without(plan: Plan, stage_id: str, chosen: Sequence[int], words: str) -> Edit:
    stage, strips = _mill(plan, stage_id)
    return laid(plan, stage, [strip for at, strip in enumerate(strips) if at not in chosen], words)


def duplicate(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Lay another strip of the same wood and width beside each strip, from other stock."""
    stage, strips = _mill(plan, stage_id)
    _check(strips, chosen)
    mark = max(spec.mark or 0 for spec in strips)
    for at in sorted(chosen, reverse=True):
        mark += 1
        strips.insert(at + 1, strips[at].model_copy(update={"mark": mark, "rings": None}))
    return laid(plan, stage, strips, f"{_named(chosen)} doubled")


def add(plan: Plan, stage_id: str) -> Edit:
    """Lay one more strip at the right, as wide as the last and of the wood of the one before it, from other stock."""
    stage, strips = _mill(plan, stage_id)
    last = strips[-1]
    like = strips[-2] if len(strips) > 1 else last
    mark = max(spec.mark or 0 for spec in strips) + 1
    strips.append(StripSpec(wood=like.wood, width=last.width, mark=mark))
    return laid(plan, stage, strips, f"a strip of {like.wood} added")


def set_wood(plan: Plan, stage_id: str, chosen: Sequence[int], wood: str) -> Edit:
    """Make strips of another wood."""
    named = LIBRARY.require(wood, f"wood-{chosen[0]}" if chosen else "wood")
    change = {"wood": named.key, "rings": None}
    return _each(
        plan, stage_id, chosen, lambda s: s.model_copy(update=change), f"{_named(chosen)}: {named.name.lower()}"
    )


def set_width(plan: Plan, stage_id: str, chosen: Sequence[int], width: float) -> Edit:
    """Make strips so wide, mm."""
    words = f"{_named(chosen)}: {width:g} mm wide"
    if len(chosen) == 1:
        _, strips = _mill(plan, stage_id)
        _check(strips, chosen)
        words = f"{_named(chosen)}: {strips[chosen[0]].width:g} → {width:g} mm wide"
    return _each(plan, stage_id, chosen, lambda s: s.model_copy(update={"width": width}), words)


def turn(plan: Plan, stage_id: str, chosen: Sequence[int], turned: StripTurn) -> Edit:
    """Turn strips in their place, on top of how they lie already."""
    words = f"{_named(chosen)} turned {turned.words}"
    return _each(plan, stage_id, chosen, lambda s: s.model_copy(update={"turned": s.turned.then(turned)}), words)


def set_sawn(plan: Plan, stage_id: str, chosen: Sequence[int], sawn: Sawn | None) -> Edit:
    """Saw strips flat, rift or quarter from the log, or (None) as it comes; rings given in full are forgotten."""
    words = f"{_named(chosen)}: {sawn.value + ' sawn' if sawn else 'sawn as it comes'}"
    return _each(plan, stage_id, chosen, lambda s: s.model_copy(update={"sawn": sawn, "rings": None}), words)


def set_sapwood(plan: Plan, stage_id: str, chosen: Sequence[int]) -> Edit:
    """Let strips keep a corner of sapwood, or take clear heartwood where all of them have one already; rings given in
    full are forgotten."""
    _, strips_ = _mill(plan, stage_id)
    keep = not all(strips_[at].sapwood for at in chosen if 0 <= at < len(strips_))
    words = f"{_named(chosen)}: {'with a corner of sapwood' if keep else 'clear heartwood'}"
    return _each(plan, stage_id, chosen, lambda s: s.model_copy(update={"sapwood": keep, "rings": None}), words)


def heart_up(stage: Mill, spec: StripSpec) -> bool:
    """Whether the heart of a strip lies above its middle, as it is laid."""
    rings = spec.rings_of(LIBRARY[spec.wood], spec.mark or 1, stage.thickness)
    x, z = rings.heart[0] - spec.width / 2, rings.heart[1] - stage.thickness / 2
    return bool((spec.turned.turn.matrix @ [x, 0.0, z])[2] > 0)


def set_heart(plan: Plan, stage_id: str, chosen: Sequence[int], *, up: bool) -> Edit:
    """Lay strips with the heart side up, or down: those that lie the other way are turned face over."""
    stage, strips = _mill(plan, stage_id)
    _check(strips, chosen)
    for at in chosen:
        if heart_up(stage, strips[at]) is not up:
            strips[at] = strips[at].model_copy(update={"turned": strips[at].turned.then(StripTurn.FACE_OVER)})
    words = f"{_named(chosen)}: heart {'up' if up else 'down'}"
    return laid(plan, stage, strips, words) if strips != stage.laid_out() else Edit(plan, "")


def alternate_rings(plan: Plan, stage_id: str) -> Edit:
    """Turn every other strip face over against its neighbours, so that their cups work against each other."""
    return _rings(plan, stage_id, lambda at, _: StripTurn.FACE_OVER if at % 2 else StripTurn.AS_SAWN, "alternate")


def mirror_rings(plan: Plan, stage_id: str) -> Edit:
    """Turn the right half end for end, so that its arcs lean the other way than those of the left half."""
    return _rings(
        plan, stage_id, lambda at, n: StripTurn.END_FOR_END if at >= (n + 1) // 2 else StripTurn.AS_SAWN, "mirror"
    )


def plain_rings(plan: Plan, stage_id: str) -> Edit:
    """Lay every strip as it was sawn."""
    return _rings(plan, stage_id, lambda _at, _n: StripTurn.AS_SAWN, "lie as sawn")


def _rings(plan: Plan, stage_id: str, turned: Callable[[int, int], StripTurn], words: str) -> Edit:
    stage, strips = _mill(plan, stage_id)
    new = [s.model_copy(update={"turned": turned(at, len(strips))}) for at, s in enumerate(strips)]
    return laid(plan, stage, new, f"rings {words}") if new != strips else Edit(plan, "")


def widths(plan: Plan, stage_id: str) -> list[float]:
    """Width of every strip in mm, in panel order."""
    return [strip.width for strip in _mill(plan, stage_id)[1]]
