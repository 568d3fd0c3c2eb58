"""What the large drawing can show: one function a view, one line each in ``VIEWS``."""

from __future__ import annotations

import hashlib
import sys
from collections.abc import Callable
from dataclasses import dataclass

from markupsafe import Markup

from laberinto.core.analysis.figures import rows
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation
from laberinto.core.solid import Cells
from laberinto.drawing import bench, unfolded
from laberinto.drawing.board import board as draw_board
from laberinto.drawing.board import thumbnail
from laberinto.drawing.canvas import Canvas
from laberinto.drawing.skin import Flat, Painted

from ...app import bitmaps, present
from ...app.drawn import kept


@dataclass(frozen=True, slots=True)
class Scene:
    """What a view draws from: the board as simulated, the chosen stage, and the look of the wood."""

    board_id: int
    sim: Simulation
    stage: str
    finish: str
    skin: Painted
    """Collects the wood that is drawn."""
    piece: int = 0
    """Which of several finished boards."""

    @classmethod
    def of(cls, board_id: int, sim: Simulation, stage: str, finish: str, piece: int = 0) -> Scene:
        skin = Painted(sim, "w", bitmaps.atlas_address, finish, canvas=Canvas())
        return cls(board_id, sim, stage, finish, skin, piece if piece < len(sim.board.pieces) else 0)

    @property
    def board(self) -> Cells:
        """The finished board that is looked at."""
        return self.sim.board.pieces[self.piece]

    def address(self, what: str, stage: str = "", **more: str) -> str:
        """The address of a picture or of data of the wood at a stage; it names the wood, so it can be kept."""
        name = stage or self.sim.results[-1].stage.id
        extra = "".join(f"&{key}={value}" for key, value in more.items())
        return f"/boards/{self.board_id}/{what}/{name}?wood={self.sim[name].wood_key}&finish={self.finish}{extra}"


def _face(scene: Scene, side: Side) -> str:
    sim, piece = scene.sim, scene.board
    words = f"The {'face' if side is Side.TOP else 'underside'} of {sim.plan.name}, {scene.finish}"
    numbered = rows(sim) if side is Side.TOP else ()
    return draw_board(piece, scene.skin, present.lengths(), label=words, side=side, rows=numbered)


def _edges(scene: Scene) -> str:
    return unfolded.edges(
        scene.board, scene.skin, present.lengths(),
        label=f"The face of {scene.sim.plan.name} with its four edges folded out",
    )  # fmt: skip


def _stage(scene: Scene) -> str:
    return bench.stage(scene.sim, scene.sim[scene.stage], scene.skin, present.lengths())


def _round(scene: Scene) -> str:
    """Drawn from a corner; where the browser can, a solid to turn takes its place."""
    label = f"{scene.sim.plan.name} from above a corner"
    return unfolded.corner(scene.board, scene.skin, label=label)


@dataclass(frozen=True, slots=True)
class View:
    """One way to look: its name on the bar, its key, and what draws it."""

    label: str
    key: str
    draw: Callable[[Scene], str]
    words: str


VIEWS: dict[str, View] = {
    "stage": View("Bench", "1", _stage, "What lies on the bench at the chosen stage"),
    "face": View("Face", "2", lambda scene: _face(scene, Side.TOP), "The finished face"),
    "under": View("Underside", "3", lambda scene: _face(scene, Side.BOTTOM), "The finished underside"),
    "edges": View("Edges", "4", _edges, "The face with its four edges folded out"),
    "round": View("Turn it", "5", _round, "The finished board as a solid to turn"),
}


@dataclass(frozen=True, slots=True)
class Drawing:
    """The large drawing, and a name for it: drawings of one name show the same."""

    markup: Markup
    painting: Markup
    """The wood of it as JSON, for its canvas."""
    name: str
    atlas: str
    """The address of all the wood in it, for who wants to ask for it early."""

    def __len__(self) -> int:
        """Bytes that it takes."""
        return sys.getsizeof(self.markup) + sys.getsizeof(self.painting)


def draw(scene: Scene, view: str) -> Drawing:
    """The large drawing; drawn once where it shows the same at every stage."""

    def drawn() -> Drawing:
        text = VIEWS[view].draw(scene)
        href = scene.skin.atlas()[0] if scene.skin.sheets else ""
        name = hashlib.blake2b(text.encode(), digest_size=9).hexdigest()
        said = scene.skin.canvas.said if scene.skin.canvas else "{}"
        return Drawing(Markup(text), Markup(said), name, href)

    if view == "stage":
        return drawn()
    return kept(scene.sim, "large", view, scene.piece, scene.finish, present.lengths(), draw=drawn)


def inset(scene: Scene) -> Markup:
    """The finished face, small, beside a drawing of the bench."""
    face = face_of(scene.sim.whole(), Side.TOP)
    return Markup(thumbnail(face, Flat(scene.sim, scene.finish), label="The finished face"))
