"""What a picture takes: its panels, and the board they make."""

from __future__ import annotations

from flask import render_template, request
from markupsafe import Markup

from laberinto.core.analysis.effort import effort
from laberinto.core.analysis.figures import figures
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.picture import panels
from laberinto.core.plan.simulate import simulate
from laberinto.drawing.board import thumbnail
from laberinto.drawing.picture import panel, rows_words
from laberinto.drawing.skin import Ringed

from ...app import present
from .routes import bp, swatches
from .state import read


@bp.post("/result")
def result() -> str:
    """The panels, the slices of each, and the simulated face."""
    try:
        state = read(request.form)
        made = panels(state.picture)
        known = swatches(state.picture)
        width = sum(state.picture.widths)
        drawn = [
            (Markup(panel(one, known, f"e{k}-", width)), rows_words(one.rows), len(one.rows))
            for k, one in enumerate(made)
        ]
    except InputError as error:
        return render_template("picture/result.html", problem=error.say(present.lengths()), panels=[])
    try:
        family = state.family()
        sim = simulate(family.plan(state.name or "Picture"))
    except LaberintoError as error:
        return render_template("picture/result.html", problem=error.say(present.lengths()), panels=drawn)
    face = face_of(sim.whole(), Side.TOP)
    picture = Markup(thumbnail(face, Ringed(sim, "pr", present.preference("finish")), label="The face this makes"))
    return render_template(
        "picture/result.html", panels=drawn, face=picture, figures=figures(sim, present.shop()), effort=effort(sim),
        found=family.truths(sim), problem="",
    )  # fmt: skip
