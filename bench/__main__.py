"""``make bench``: the engine against its baseline, what an edit takes, how long the gallery does, as tables.

Machines differ and are noisy: read the ratios, which come from one run.
"""

from __future__ import annotations

from bench import asbuilt, calendar, cutting, edits, engine, gallery, hand, leaving, photos, shelf


def main() -> None:
    print(f"{'against one manifold3d object a cell':48} {'baseline ms':>12} {'ours ms':>9} {'faster':>8}")
    for strips, rounds in ((20, 5), (120, 3)):
        for name, theirs, ours in engine.compare(strips, rounds):
            print(f"{name:48} {theirs:12.1f} {ours:9.1f} {theirs / ours:7.1f}×")
    small, large, factor = engine.growth(60, 240)
    print(f"{f'time a cell at {large} cells, against {small}':48} {'':12} {'':9} {factor:7.2f}×")
    cells, megabytes = engine.memory(120)
    print(f"{f'most memory held at once, {cells} cells':48} {'':12} {'':9} {megabytes:5.0f} MB")
    print()
    print(f"{'on the server':48} {'median ms':>12} {'p95 ms':>9} {'baseline':>8}")
    base = 0.0
    for name, action in edits.rows().items():
        median, p95 = edits.timed(action)
        base = base or median
        print(f"{name:48} {median:12.1f} {p95:9.1f} {median / base:7.2f}×")
    print()
    for name, kilobytes in edits.weights().items():
        print(f"{name:48} {kilobytes:12.0f} kB")
    print()
    gallery.main()
    print()
    hand.main()
    print()
    cutting.main()
    print()
    asbuilt.main()
    print()
    shelf.main()
    print()
    photos.main()
    print()
    calendar.main()
    print()
    leaving.main()


if __name__ == "__main__":
    main()
