"""The edits the page can ask for, by name. A new one is one function and one line in ``OPERATIONS``."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping

from laberinto.core.edits import Edit, drawn, lamination, leavings, pieces, rows, set_parameters, stages, strips, woods
from laberinto.core.edits.again import standing_again
from laberinto.core.edits.parameters import settle
from laberinto.core.errors import InputError
from laberinto.core.fields import further, specs, stepped
from laberinto.core.geometry.rotations import Lie, Pose, Spin, Turn
from laberinto.core.judging.arrange.pieces import arrange_pieces
from laberinto.core.plan.model import MOST_TIMES, Plan, Wanted
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import check
from laberinto.core.stages.mill import LEAST_WIDTH, MOST_WIDTH, StripTurn
from laberinto.core.units import Lengths, parse_length
from laberinto.core.woods.strips import Sawn

from ...app import present
from ...app.reading import must_number, must_whole, must_wholes, whole
from . import pattern

Form = Mapping[str, str]
Operation = Callable[[Plan, str, Form, Lengths], Edit]


STEPS = "steps"
"""The field of a form that says how many steps its figure goes on from what is typed."""


def _chosen(form: Form) -> list[int]:
    """The pieces an edit is for."""
    return must_wholes(form, "at")


def _at_point(form: Form) -> tuple[int, int, tuple[float, float]]:
    """Which point of which run was drawn, and where to, mm."""
    return must_whole(form, "run"), must_whole(form, "index"), (must_number(form, "x"), must_number(form, "y"))


def _signed(text: str, field: str, lengths: Lengths) -> float:
    """A typed length that may point to the left: with a minus sign, or with “left” behind it."""
    text = text.strip()
    left = text.startswith(("-", "−")) or text.endswith("left")
    bare = text.lstrip("-−+").removesuffix("left").removesuffix("right")
    by = parse_length(bare or "0", lengths.system, most=2000, zero=True, field=field)
    return -by if left else by


def _rename(plan: Plan, _stage: str, form: Form, _lengths: Lengths) -> Edit:
    name = " ".join(form.get("name", "").split())
    if not 1 <= len(name) <= 80:
        raise InputError("A name has 1 to 80 characters.", "name")
    return Edit(plan.model_copy(update={"name": name}), f"renamed {name}" if name != plan.name else "")


def _times(plan: Plan, _stage: str, form: Form, _lengths: Lengths) -> Edit:
    """How many boards of the plan are made."""
    times = whole(form.get("times"))
    if times is None or not 1 <= times <= MOST_TIMES:
        raise InputError(f"A batch is 1 to {MOST_TIMES} boards.", "times")
    words = f"made {times} times" if times > 1 else "made once"
    return Edit(plan.model_copy(update={"times": times}), words if times != plan.times else "")


def _want(plan: Plan, _stage: str, form: Form, lengths: Lengths) -> Edit:
    """The size somebody asked for; an empty field leaves it open."""
    found: dict[str, float | None] = {}
    for name, least, most in (("width", 20, 2000), ("length", 20, 2000), ("thickness", 4, 200)):
        text = form.get(f"want-{name}", "").strip()
        found[name] = parse_length(text, lengths.system, least=least, most=most, field=f"want-{name}") if text else None
    wanted = Wanted.model_validate(found)
    return Edit(plan.model_copy(update={"wanted": wanted}), "" if wanted == plan.wanted else "wanted size noted")


def _width(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    """A typed width, for one strip or for all that are chosen with it, or so many steps on from it."""
    chosen = _chosen(form)
    field, now = f"width-{chosen[0]}", strips.widths(plan, stage)
    text = form.get(field, "").strip()
    alone = now[chosen[0]] if len(chosen) == 1 and 0 <= chosen[0] < len(now) else None
    if alone is not None and text == lengths.field(alone):
        width = alone
    else:
        width = parse_length(text, lengths.system, least=LEAST_WIDTH, most=MOST_WIDTH, field=field)
    if STEPS in form:
        width = further(width, _steps(form), lengths.nudge, LEAST_WIDTH, MOST_WIDTH)
    return Edit(plan, "") if width == alone else strips.set_width(plan, stage, chosen, width)


def _steps(form: Form) -> int:
    """How many steps of an arrow key a figure goes on; below 0 for down."""
    return int(must_number(form, STEPS))


def _parameters(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    """What was typed in a stage's fields, or so many steps on from one of them."""
    if STEPS in form:
        edited = form.get("edited", "")
        spec = next((spec for spec in specs(type(plan.stage(stage))) if spec.name == edited), None)
        if spec is not None:
            form = {edited: stepped(spec, form.get(edited, ""), _steps(form), lengths)}
    return set_parameters(plan, stage, form, lengths)


def _drag(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    """An edge dragged to a width in mm: taken to the nearest step of the maker's units."""
    dragged = must_number(form, "mm")
    width = min(max(lengths.nearest(dragged), LEAST_WIDTH), MOST_WIDTH)
    chosen = _chosen(form)
    now = strips.widths(plan, stage)
    same = 0 <= chosen[0] < len(now) and abs(now[chosen[0]] - width) < 1e-6
    return Edit(plan, "") if same else strips.set_width(plan, stage, chosen, width)


def _strip_turn(turned: StripTurn) -> Operation:
    return lambda plan, stage, form, _lengths: strips.turn(plan, stage, _chosen(form), turned)


def _sawn(plan: Plan, stage: str, form: Form, _lengths: Lengths) -> Edit:
    text = form.get("sawn", "")
    if text and text not in {sawn.value for sawn in Sawn}:
        raise InputError("Strips are sawn flat, rift or quarter.", "sawn")
    return strips.set_sawn(plan, stage, _chosen(form), Sawn(text) if text else None)


def _letter(plan: Plan, stage: str, form: Form, _lengths: Lengths) -> Edit:
    """The wood that goes by a letter on the board's palette."""
    letter = form.get("letter", "").upper()
    palette = woods.letters(plan)
    if letter not in palette:
        known = ", ".join(palette)
        raise InputError(f"No wood of this board goes by {letter or 'that letter'}; the palette has {known}.", "strips")
    return strips.set_wood(plan, stage, _chosen(form), palette[letter])


def _line(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    return lamination.lay(plan, stage, form.get("line", ""), lengths, woods.letters(plan))


def _row_turn(lie: Lie) -> Operation:
    return lambda plan, stage, form, _lengths: rows.turn(plan, stage, _chosen(form), lie)


def _shift(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    """Rows shifted by a typed or dragged amount."""
    dragged = "mm" in form
    by = lengths.nearest(must_number(form, "mm")) if dragged else _signed(form.get("by", ""), "by", lengths)
    return rows.shift(plan, stage, _chosen(form), by) if by else Edit(plan, "")


def _shift_rule(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    parts = re.split(r";|,\s", form.get("every", ""))  # a comma alone is a decimal
    shifts = [_signed(part, "every", lengths) for part in parts]
    return rows.shift_rule(plan, stage, shifts, _signed(form.get("further", ""), "further", lengths))


def _piece_turn(turn: Turn) -> Operation:
    return lambda plan, stage, form, _lengths: pieces.turn(plan, stage, _chosen(form), turn)


def _piece_shift(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    """Pieces of a glue-up shifted by a typed amount or by one step."""
    by = lengths.nearest(must_number(form, "mm")) if "mm" in form else _signed(form.get("by", ""), "by", lengths)
    return pieces.shift(plan, stage, _chosen(form), by) if by else Edit(plan, "")


def _remedy(plan: Plan, _stage: str, form: Form, lengths: Lengths) -> Edit:
    """The change that a check offers, if it still speaks."""
    found = check(simulate(plan), lengths, present.shop())
    finding = next((one for one in found if one.key == form.get("key")), None)
    remedy = finding.remedy_at(form.get("which", "")) if finding else None
    return settle(plan, remedy, lengths) if remedy else Edit(plan, "")


OPERATIONS: dict[str, Operation] = {
    "rename": _rename,
    "times": _times,
    "want": _want,
    "remedy": _remedy,
    "parameters": _parameters,
    "strip-move": lambda plan, stage, form, _: strips.move(plan, stage, _chosen(form), must_whole(form, "to")),
    "strip-add": lambda plan, stage, _form, _: strips.add(plan, stage),
    "strip-remove": lambda plan, stage, form, _: strips.remove(plan, stage, _chosen(form)),
    "strip-out": lambda plan, stage, form, _: strips.leave_out(plan, stage, _chosen(form)),
    "strip-double": lambda plan, stage, form, _: strips.duplicate(plan, stage, _chosen(form)),
    "strip-wood": lambda plan, stage, form, _: strips.set_wood(plan, stage, _chosen(form), form.get("wood", "")),
    "strip-letter": _letter,
    "strip-width": _width,
    "strip-drag": _drag,
    "strip-sawn": _sawn,
    "strip-sapwood": lambda plan, stage, form, _: strips.set_sapwood(plan, stage, _chosen(form)),
    "strip-heart-up": lambda plan, stage, form, _: strips.set_heart(plan, stage, _chosen(form), up=True),
    "strip-heart-down": lambda plan, stage, form, _: strips.set_heart(plan, stage, _chosen(form), up=False),
    "strip-face-over": _strip_turn(StripTurn.FACE_OVER),
    "strip-end-for-end": _strip_turn(StripTurn.END_FOR_END),
    "rings-alternate": lambda plan, stage, _form, _: strips.alternate_rings(plan, stage),
    "rings-mirror": lambda plan, stage, _form, _: strips.mirror_rings(plan, stage),
    "rings-plain": lambda plan, stage, _form, _: strips.plain_rings(plan, stage),
    "lamination": _line,
    "pattern": pattern.change,
    "wood-replace": lambda plan, _stage, form, _: woods.replace_wood(plan, form.get("old", ""), form.get("new", "")),
    "row-move": lambda plan, stage, form, _: rows.move(plan, stage, _chosen(form), must_whole(form, "to")),
    "row-swap": lambda plan, stage, form, _: rows.swap(plan, stage, _chosen(form)),
    "row-flip": _row_turn(Lie.FLIP),
    "row-end-for-end": _row_turn(Lie.END_FOR_END),
    "row-other-end-up": _row_turn(Lie.OTHER_END_UP),
    "row-shift": _shift,
    "row-clear": lambda plan, stage, form, _: rows.clear(plan, stage, _chosen(form)),
    "rows-shift-rule": _shift_rule,
    "row-out": lambda plan, stage, form, _: rows.leave_out(plan, stage, _chosen(form)),
    "row-back": lambda plan, stage, form, _: rows.take_back(plan, stage, must_whole(form, "number")),
    "rows-reset": lambda plan, stage, _form, _: rows.reset(plan, stage),
    "piece-move": lambda plan, stage, form, _: pieces.move(plan, stage, _chosen(form), must_whole(form, "to")),
    "piece-swap": lambda plan, stage, form, _: pieces.swap(plan, stage, _chosen(form)),
    "piece-end-for-end": _piece_turn(Turn(spin=Spin.END_FOR_END)),
    "piece-face-over": _piece_turn(Turn(Pose.FACE_OVER)),
    "piece-quarter-roll": _piece_turn(Turn(Pose.QUARTER_ROLL)),
    "piece-quarter-turn": _piece_turn(Turn(spin=Spin.QUARTER)),
    "piece-stand-up": _piece_turn(Turn(Pose.STAND_UP)),
    "piece-shift": _piece_shift,
    "piece-dry": lambda plan, stage, form, _: pieces.dry(plan, stage, _chosen(form)),
    "piece-clear": lambda plan, stage, form, _: pieces.clear(plan, stage, _chosen(form)),
    "pieces-arrange": lambda plan, stage, _form, _: arrange_pieces(plan, stage),
    "pieces-reset": lambda plan, stage, _form, _: pieces.reset(plan, stage),
    "draw-move": lambda plan, stage, form, lengths: drawn.move(
        plan, stage, *_at_point(form), lengths, mirrored=form.get("mirrored") == "yes"
    ),
    "draw-add": lambda plan, stage, form, lengths: drawn.add(plan, stage, *_at_point(form), lengths),
    "draw-remove": lambda plan, stage, form, lengths: drawn.remove(
        plan, stage, must_whole(form, "run"), must_whole(form, "index"), lengths
    ),
    "stage-insert": lambda plan, stage, form, _: stages.insert(plan, stage, form.get("kind", ""), present.shop()),
    "stage-panel": lambda plan, stage, _form, _: stages.second_panel(plan, stage),
    "stage-again": lambda plan, stage, form, _: standing_again(
        plan, stage, present.shop(), turned=form.get("kind") == "turned"
    ),
    "stage-leavings": lambda plan, stage, _form, _: leavings.second_board(plan, stage, present.shop()),
    "stage-remove": lambda plan, stage, _form, _: stages.remove(plan, stage),
    "stage-double": lambda plan, stage, _form, _: stages.duplicate(plan, stage),
    "stage-later": lambda plan, stage, _form, _: stages.move(plan, stage, later=True),
    "stage-earlier": lambda plan, stage, _form, _: stages.move(plan, stage, later=False),
    "stage-switch": lambda plan, stage, _form, _: stages.switch(plan, stage),
}
