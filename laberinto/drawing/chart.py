"""A chart of what further passes do: disorder against the face that is left, each point with its board."""

from __future__ import annotations

from collections.abc import Sequence

from .dims import INK
from .svg import document, num, tag, text

WIDE, HIGH, LEFT, TOP = 640.0, 260.0, 46.0, 18.0
GAIN, LOSS = "#1769b5", "#8a6d3b"


def outlook(disorder: Sequence[float], left: Sequence[float], worth: Sequence[float], best: int, *, label: str) -> str:
    """Shares 0 to 1 after 0, 1, 2 … passes: disorder, face left, and the worth that weighs one against the other."""
    step = WIDE / max(len(disorder) - 1, 1)

    def at(k: int, share: float) -> tuple[float, float]:
        return LEFT + k * step, TOP + HIGH * (1 - share)

    out = ""
    for share in (0.0, 0.25, 0.5, 0.75, 1.0):
        _, y = at(0, share)
        out += tag("path", d=f"M{num(LEFT)} {num(y)}h{num(WIDE)}", stroke=INK, stroke_opacity=0.18, stroke_width=1)
        out += text(LEFT - 8, y + 4, f"{share * 100:.0f}", 12, anchor="end", fill=INK)
    x, _ = at(best, 0)
    out += tag("path", d=f"M{num(x)} {num(TOP)}v{num(HIGH)}", stroke=INK, stroke_width=1.2, stroke_dasharray="5 4")
    for shares, ink, dash in ((left, LOSS, ""), (disorder, GAIN, ""), (worth, INK, "2 3")):
        points = [at(k, share) for k, share in enumerate(shares)]
        d = "M" + "L".join(f"{num(px)} {num(py)}" for px, py in points)
        style = {"stroke_dasharray": dash} if dash else {}
        out += tag("path", d=d, fill="none", stroke=ink, stroke_width=2.4, stroke_linejoin="round", **style)
        out += "".join(tag("circle", cx=px, cy=py, r=4.2, fill=ink) for px, py in points)
    # names stand at the lines' ends, pushed apart where they would meet
    ends = sorted(
        ((at(len(s) - 1, s[-1])[1], words, ink) for s, words, ink in (
            (left, "face left", LOSS), (disorder, "disorder", GAIN), (worth, "worth", INK))),
    )  # fmt: skip
    above = -100.0
    for y, words, ink in ends:
        above = max(y + 4, above + 15)
        out += text(LEFT + WIDE + 10, above, words, 13, anchor="start", fill=ink)
    for k in range(len(disorder)):
        out += text(at(k, 0)[0], TOP + HIGH + 20, str(k), 13, fill=INK)
    out += text(LEFT + WIDE / 2, TOP + HIGH + 40, "further passes", 12, fill=INK)
    return document(out, LEFT + WIDE + 90, TOP + HIGH + 50, label=label, class_="chart")
