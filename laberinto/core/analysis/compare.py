"""Two boards, or two states of one, and what is different, in words."""

from __future__ import annotations

from collections.abc import Iterator

from ..fields import shown, specs
from ..plan.simulate import Simulation
from ..stages import Arrange, Mill, Stage
from ..units import Lengths
from .figures import Figures, figures

LEAST = 0.05
"""Sizes that differ by less than this (mm) are the same."""


_WORDS = {"also": "panels", "shifts": "shift of every other row", "shifted": "shift of single rows"}
"""How parameters without a label of their own are called."""


def differences(before: Simulation, after: Simulation, lengths: Lengths | None = None) -> list[str]:
    """What changed from one board to the other, what people decide by first; empty where nothing did."""
    how = lengths or Lengths()
    return [*_figures(figures(before), figures(after), how), *_stages(before, after, how)]


def _figures(a: Figures, b: Figures, how: Lengths) -> Iterator[str]:
    for name, one, other, more, less in (
        ("length", a.length, b.length, "longer", "shorter"),
        ("width", a.width, b.width, "wider", "narrower"),
        ("thickness", a.thickness, b.thickness, "thicker", "thinner"),
    ):
        if abs(other - one) > LEAST:
            word = more if other > one else less
            yield f"{how.show(abs(other - one))} {word} ({name} {how.show(one)} → {how.show(other)})"
    waste = round(b.wasted * 100) - round(a.wasted * 100)
    if waste:
        yield f"{abs(waste)} % {'more' if waste > 0 else 'less'} of the wood wasted"
    if abs(b.weight - a.weight) >= 0.05:
        kilograms = abs(b.weight - a.weight) * how.scale("kg")
        yield f"{kilograms:.1f} {how.unit('kg')} {'heavier' if b.weight > a.weight else 'lighter'}"
    for name, first, second in (
        ("rows", a.rows, b.rows),
        ("cells", a.cells, b.cells),
        ("glue-ups", a.glue_ups, b.glue_ups),
        ("joints", a.joints, b.joints),
    ):
        if first != second:
            yield f"{name} {first} → {second}"
    for key in dict.fromkeys([*(w.wood for w in a.woods), *(w.wood for w in b.woods)]):
        one_, other_ = (next((w for w in f.woods if w.wood == key), None) for f in (a, b))
        if one_ is None and other_ is not None:
            yield f"{other_.name.lower()} comes in, {other_.strips} strip{'s' if other_.strips != 1 else ''}"
        elif other_ is None and one_ is not None:
            yield f"no {one_.name.lower()} any more"


def _stages(before: Simulation, after: Simulation, how: Lengths) -> Iterator[str]:
    old, new = ({stage.id: stage for stage in sim.plan.stages} for sim in (before, after))
    for name, stage in new.items():
        if name not in old:
            yield f"{stage.title.lower()} put in"
        elif type(old[name]) is type(stage):
            yield from _parameters(old[name], stage, how)
    for name, stage in old.items():
        if name not in new:
            yield f"{stage.title.lower()} taken out"
    common = [name for name in old if name in new]
    if common != [name for name in new if name in old]:
        yield "stages in another order"


def _parameters(a: Stage, b: Stage, how: Lengths) -> Iterator[str]:
    if a == b:
        return
    title = b.title.lower()
    if a.skip != b.skip:
        yield f"{title} switched {'off' if b.skip else 'on'}"
    for spec in specs(type(b)):
        one, other = (shown(spec, getattr(stage, spec.name), how) for stage in (a, b))
        if one != other:
            words = dict(spec.choices)
            yield f"{title}: {spec.label.lower()} {words.get(one, one) or '–'} → {words.get(other, other) or '–'}"
    if isinstance(a, Mill) and isinstance(b, Mill) and a.laid_out() != b.laid_out():
        yield f"{title}: {_strips(a, b)}"
    if isinstance(a, Arrange) and isinstance(b, Arrange):
        if a.order != b.order:
            yield f"{title}: slices in another order"
        if a.turned != b.turned:
            changed = {n for n in {*a.turned, *b.turned} if a.turned.get(n) != b.turned.get(n)}
            yield f"{title}: {len(changed)} slice{'s' if len(changed) != 1 else ''} turned otherwise"
    plain = {spec.name for spec in specs(type(b))} | {"strips", "order", "turned", "skip", "source"}
    rest = [name for name in type(b).model_fields if name not in plain and getattr(a, name) != getattr(b, name)]
    if rest and not isinstance(b, Mill):
        yield f"{title}: {', '.join(_WORDS.get(name, name) for name in rest)} changed"


def _strips(a: Mill, b: Mill) -> str:
    one, other = a.laid_out(), b.laid_out()
    if len(one) != len(other):
        return f"strips {len(one)} → {len(other)}"
    changed = sum((x.wood, x.width) != (y.wood, y.width) for x, y in zip(one, other, strict=True))
    if changed:
        return f"{changed} strip{'s' if changed != 1 else ''} of another wood or width"
    return "strips turned or sawn otherwise"
