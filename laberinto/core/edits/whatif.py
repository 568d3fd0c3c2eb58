"""What if: one change over all stages of a plan, such as another blade, wider strips or another way to flatten."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import BaseModel, ConfigDict

from ..errors import InputError
from ..fields.spec import Spec, choice, millimetres, specs, wood
from ..plan.simulate import Simulation
from ..stages import Crosscut, Flatten, Method, Mill, Stage
from ..stages.mill import LEAST_WIDTH
from ..units import Lengths
from .model import Edit
from .woods import replace_wood


class Asked(BaseModel):
    """What is to be different; what is None stays as it is. Lengths in mm."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    kerf: float | None = millimetres(
        None, label="Kerf of every cut", help="A thin blade, or a band saw.", least=0.1, most=10
    )
    wider: float | None = millimetres(
        None, label="Every strip wider by", help="Of all laminations; narrower with a minus.", least=-100, most=100
    )
    thickness: float | None = millimetres(None, label="Finished thickness", help="Slices follow it.", least=8, most=150)
    slice: float | None = millimetres(None, label="Every slice", help="As it is cut.", least=8, most=300)
    panels: Method | None = choice(None, label="Panels flattened with", help="Before they are sliced.")
    board: Method | None = choice(None, label="End grain flattened with", help="Once it stands.")
    old: str = wood("", label="In place of this wood")
    new: str = wood("", label="another")

    @classmethod
    def specs(cls) -> dict[str, Spec]:
        """Its fields by name."""
        return {spec.name: spec for spec in specs(cls)}


Change = Callable[[Simulation, Any], dict[str, Stage]]
"""Stages that a change makes anew, by id."""


def _kerf(sim: Simulation, to: float) -> dict[str, Stage]:
    return {
        stage.id: stage.model_copy(update={"kerf": to}) for stage in sim.plan.stages if getattr(stage, "kerf", to) != to
    }


def _wider(sim: Simulation, by: float) -> dict[str, Stage]:
    out: dict[str, Stage] = {}
    for stage in sim.plan.stages:
        if isinstance(stage, Mill) and len(stage.laid_out()) > 1:
            strips = [spec.model_copy(update={"width": round(spec.width + by, 6)}) for spec in stage.strips]
            narrowest = min(spec.width for spec in strips)
            if narrowest < LEAST_WIDTH:
                raise InputError(
                    "The narrowest strip of this plan would be {left}. Make them narrower by {most} at most.", "wider",
                    left=max(narrowest, 0.0), most=max(narrowest - by - LEAST_WIDTH, 0.0),
                )  # fmt: skip
            out[stage.id] = stage.model_copy(update={"strips": tuple(strips)})
    return out


def _sliced(sim: Simulation, to: Callable[[Crosscut], float]) -> dict[str, Stage]:
    """Crosscuts of lying panels, with another slice."""
    return {
        r.stage.id: r.stage.model_copy(update={"slice": round(to(r.stage), 6)})
        for r in sim.results
        if isinstance(r.stage, Crosscut) and not r.pieces.cells.on_end
    }


def _thickness(sim: Simulation, to: float) -> dict[str, Stage]:
    last = next(
        (r.stage for r in reversed(sim.results) if isinstance(r.stage, Flatten) and r.stage.to and not r.stage.skip),
        None,
    )
    if last is None or last.to is None:
        raise InputError("No stage of this plan flattens to a thickness.", "thickness")
    by = to - last.to
    return {last.id: last.model_copy(update={"to": to}), **_sliced(sim, lambda cut: cut.slice + by)}


def _flattened(sim: Simulation, method: Method, *, on_end: bool) -> dict[str, Stage]:
    return {
        r.stage.id: r.stage.model_copy(update={"method": method})
        for r in sim.results
        if isinstance(r.stage, Flatten) and r.pieces.cells.on_end is on_end
    }


CHANGES: dict[str, Change] = {
    "kerf": _kerf,
    "wider": _wider,
    "thickness": _thickness,
    "slice": lambda sim, to: _sliced(sim, lambda _cut: to),
    "panels": lambda sim, method: _flattened(sim, method, on_end=False),
    "board": lambda sim, method: _flattened(sim, method, on_end=True),
}
"""What each change does to the stages of a build."""


def what_if(sim: Simulation, asked: Asked, lengths: Lengths) -> Edit:
    """The plan with all that is asked, and what that was in words; empty words where nothing is. Raises InputError for
    what cannot be."""
    plan, words, by_name = sim.plan, list[str](), Asked.specs()
    made: dict[str, Stage] = {}
    for name, change in CHANGES.items():
        value = getattr(asked, name)
        if value is None:
            continue
        for key, stage in change(sim, value).items():
            before = sim.plan.stage(key)
            changed = {n: v for n in type(stage).model_fields if (v := getattr(stage, n)) != getattr(before, n)}
            made[key] = made.get(key, before).model_copy(update=changed)
        said = value.label if isinstance(value, Method) else ("-" if value < 0 else "") + lengths.show(abs(value))
        words.append(f"{by_name[name].label.lower()} {said}")
    plan = plan.with_stages(made.get(stage.id, stage) for stage in plan.stages) if made else plan
    if asked.old and asked.new and asked.old != asked.new:
        edit = replace_wood(plan, asked.old, asked.new)
        plan = edit.plan
        words.append(edit.words)
    return Edit(plan, f"what if: {', '.join(words)}" if words else "")
