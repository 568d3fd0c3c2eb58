"""Steps of a glue-up: dry fit, spread, clamp, rest; and of standing slices up before it."""

from __future__ import annotations

from collections.abc import Iterator

from ..analysis.glueups import rests
from ..analysis.marks import these
from ..geometry.rotations import Lie
from ..instructions import GlueUp, Turn, in_order
from ..plan.model import OFFCUT
from ..stages import Across, Arrange, Gluing, Profile, Rule
from ..units import plural
from . import cautions as say
from . import clamping, laying
from .model import Context, Map, Step
from .parts import capital, glue_line

_BY_RULE = {
    Rule.AS_CUT: "All as cut.",
    Rule.FLIP: "Flip every other one left to right (other end up).",
    Rule.END_FOR_END: "Turn every other one end for end.",
    Rule.BOOK: "Stand every other one on its other end, so that sawn faces meet.",
    Rule.PAIRS: "Two and two: as cut, flipped, flipped, as cut, and so on.",
}


def arrange(c: Context) -> Iterator[Step]:
    """Steps of standing slices up in their order."""
    stage, (told,) = c.result.stage, c.does
    assert isinstance(stage, Arrange) and isinstance(told, Turn)
    names = [piece.name for piece in told.pieces]
    lines = [
        "Knock the whiskers off the edges, then stand every slice up, end grain to the top.",
        f"Rows from the far side: {laying.in_turn(names)}.",
    ]
    if left := c.names[stage.id + OFFCUT]:
        lines.append(f"Left out: {these(left)}.")
    if not stage.turned:
        lines.append(_BY_RULE[stage.rule])
    if stage.turned or stage.rule is not Rule.AS_CUT:
        by_turn = {lie.turn.name: lie for lie in Lie}
        for lie in Lie:
            mine = [piece.name for piece in told.pieces if by_turn.get(piece.turn) is lie]
            if mine:
                lines.append(f"{capital(lie.words)}, {marked(lie)}: {these(mine)}.")
    else:
        lines.append(f"So on all of them the {marked(Lie.AS_CUT)}.")
    lines.append("Strike a chalk line across all of them: a row out of place or turned shows at once.")
    yield Step(
        f"{stage.id}.rows", stage.id, "Stand up and arrange the slices", tuple(lines), map=Map.TURNED, does=c.does
    )


def marked(lie: Lie) -> str:
    """Where the mark of a slice is seen when it stands so, and where its arrow points: it was written on the upper side
    of the lying slice, the arrow towards the near end."""
    face, arrow = lie.turn.matrix @ [0, 0, 1], lie.turn.matrix @ [0, -1, 0]
    return f"mark {'towards' if face[1] < 0 else 'away from'} you and arrow {'up' if arrow[2] > 0 else 'down'}"


def turn(c: Context) -> Iterator[Step]:
    """Steps of rolling or turning pieces."""
    (told,) = c.does
    assert isinstance(told, Turn)
    yield Step(
        f"{told.stage}.turn", told.stage, "Turn the pieces",
        (
            f"{capital(these(piece.name for piece in told.pieces))}.",
            *laying.turned(c, told.pieces),
            "Marks on the near end stay readable: renew those that come to lie under.",
        ),
        does=c.does,
    )  # fmt: skip


def beside(c: Context) -> Iterator[Step]:
    """The step from which several pieces are gone on with together."""
    (told,) = c.does
    assert isinstance(told, Turn)
    yield Step(
        f"{told.stage}.beside", told.stage, "Lay them beside each other",
        (f"From here on all is done to each of these: {these(piece.name for piece in told.pieces)}.",),
        does=c.does,
    )  # fmt: skip


def glue(c: Context) -> Iterator[Step]:
    """Steps of a glue-up: dry fit, spread, clamp, rest."""
    stage, (told,) = c.result.stage, c.does
    assert isinstance(told, GlueUp)
    key, pieces, made = told.stage, len(told.pieces), len(told.makes)
    rows = told.across is Across.LENGTH
    what = _what(told)
    names = [piece.name for piece in told.pieces]
    yield Step(
        f"{key}.dry", key, f"Dry fit the {what}",
        (
            f"Lay all {pieces} {what}, {laying.FROM[told.across]} on, and clamp them without glue.",
            *laying.order(told), *_which_way(told), *laying.strips_turned(c, names), *laying.turned(c, told.pieces),
            *laying.shifted(c, told), *laying.dry(told),
            "Draw a triangle across them all, and check against the map: order, turns, and that no joint shows light. "
            "Set clamps and cauls ready."
            if not rows
            else "Sight along every line that must meet. A row slid by the clamps is seen for ever, and squeeze-out hides "
            "it: look again before the glue beads.",
        ),
        map=Map.ROWS if rows else Map.PANEL,
    )  # fmt: skip
    whole = (
        plural(made, "piece")
        if made > 1
        else {"length": "the board", "width": "the panel", "thickness": "the stack"}[told.across]
    )
    yield Step(
        f"{key}.glue", key, f"Glue up {whole}",
        (
            *laying.dry(told),
            glue_line(c, told.spread, len(c.result.outcome.joints), told.grams),
            _in_time(c),
            *clamping.told(c, told.clamping, "left" if rows else "near"),
            *_taped(c),
            clamping.squeeze(c),
            *((f"Mark what comes out: {these(told.makes)}.",) if any(name.mark for name in told.makes) else ()),
            *_meanwhile(c),
        ),
        (say.GLUE,), wait_hours=told.hours, map=Map.CLAMPS, does=c.does,
    )  # fmt: skip
    if rest := rests(c.sim.plan, stage):
        yield Step(
            f"{key}.rest", key, "Let it rest off the clamps",
            (
                "Two days to a week, standing on edge with air on both faces.",
                "Glue moisture leaves, and any warp shows before it is flattened away.",
            ),
            wait_hours=rest,
        )  # fmt: skip


def _taped(c: Context) -> Iterator[str]:
    """That sloping pieces may be held by tape: clamps would push them off each other."""
    plan, names = c.sim.plan, list(c.result.stage.sources)
    while names:
        stage = plan.stage(names.pop().removesuffix(OFFCUT))
        if isinstance(stage, Profile):
            yield (
                "Small sloping pieces slide under a clamp: pull tape tight across every joint on both sides and use the "
                "clamps only to close the last of it, or tape alone where they find no hold."
            )
            return
        if not isinstance(stage, Gluing):
            names += stage.sources


def _in_time(c: Context) -> str:
    """How long spreading and setting take, and how long the glue lets you."""
    needs = len(c.result.outcome.joints) * c.shop.seconds_per_joint / 60
    return (
        f"Spreading and setting take about {needs:.1f} minutes; in your air the glue is open for {c.shop.open_now:.3g}, and "
        f"pressure must be on after {c.shop.closed_now:.3g}."
    )


def _which_way(told: GlueUp) -> Iterator[str]:
    """Which end and which face: what is turned is said after it."""
    nouns = {piece.name.noun for piece in told.pieces}
    if nouns == {"strip"} and not any(piece.name.cuts for piece in told.pieces):
        yield "Marked ends towards you and reference faces down; what is turned is turned from there."
    elif nouns <= {"strip", "bar"}:
        yield "Marked ends towards you, as they came off the saw; what is turned is turned from there."


MOST_MEANWHILE = 3
"""Of what can be done while glue stands so much is named."""


def _meanwhile(c: Context) -> Iterator[str]:
    """What needs nothing of this glue-up and comes later."""
    plan, here = c.sim.plan, c.result.stage.id
    needs: dict[str, set[str]] = {}
    for stage in plan.stages:
        before = {name.removesuffix(OFFCUT) for name in stage.sources}
        needs[stage.id] = before.union(*(needs[name] for name in before))
    order = in_order(plan)
    free = [
        plan.stage(name)
        for name in order[order.index(here) + 1 :]
        if here not in needs[name] and name not in needs[here] and plan.stage(name).shapes_wood
    ]
    words = [
        f"{stage.verb[:1].lower()}{stage.verb[1:]} ({these(n for source in stage.sources for n in c.names[source])})"
        for stage in free
        if stage.sources
    ]
    if words:
        yield f"While it stands, go on with what needs none of it: {'; '.join(words[:MOST_MEANWHILE])}."


def _what(told: GlueUp) -> str:
    """What the pieces are called together."""
    nouns = {piece.name.noun for piece in told.pieces}
    if told.across is Across.LENGTH:
        return "rows" if nouns <= {"slice", "strip", "bar"} else "pieces"
    if told.across is Across.THICKNESS:
        return "layers"
    return f"{nouns.pop()}s" if len(nouns) == 1 else "pieces"
