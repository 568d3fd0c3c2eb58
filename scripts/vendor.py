"""Fetch the front-end files that Laberinto ships, by exact version, into the repository.

Run it only to move to a new version (``python scripts/vendor.py``); the result is committed, so
neither installing nor running the application needs it. Needs npm on the PATH.
"""

from __future__ import annotations

import hashlib
import json
import os
import re
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path

from fontTools.ttLib import woff2

ROOT = Path(__file__).resolve().parent.parent
VENDOR = ROOT / "laberinto" / "web" / "static" / "vendor"
PAPER = VENDOR.parent / "css" / "paper.css"
AXE = ROOT / "tests" / "browser" / "vendor"

WEIGHTS = {
    "bricolage-grotesque": (600, 700),
    "atkinson-hyperlegible-next": (400, 500, 700),
    "atkinson-hyperlegible-mono": (400, 600),
}

ICONS = (
    "archive", "archive-restore", "arrow-down", "arrow-left", "arrow-right", "arrow-up", "arrow-up-down", "book-open",
    "brush", "calculator", "check", "chevron-left", "chevron-right", "circle-help", "clipboard-paste", "clock",
    "columns-2", "copy", "droplet", "ellipsis", "eye", "eye-off", "file-down", "flip-horizontal-2", "flip-vertical-2",
    "grid-2x2", "hammer", "history", "image", "info", "layers", "list-checks", "maximize", "moon",
    "notebook-pen", "octagon-alert", "paint-bucket", "pause", "pencil", "pin", "play", "plus", "printer", "redo-2",
    "rotate-ccw", "ruler", "scissors", "search", "share-2", "skip-back", "skip-forward", "square-dashed", "sun",
    "trash-2", "triangle-alert", "undo-2", "x", "zoom-in", "zoom-out",
)  # fmt: skip

# package, version, {file in the package: file in the vendor folder}
PACKAGES: list[tuple[str, str, dict[str, str]]] = [
    ("htmx.org", "2.0.11", {"dist/htmx.min.js": "htmx/htmx.min.js", "LICENSE": "htmx/LICENSE"}),
    (
        "idiomorph",
        "0.8.0",
        {"dist/idiomorph-ext.min.js": "idiomorph/idiomorph-ext.min.js", "LICENSE": "idiomorph/LICENSE"},
    ),
    ("sortablejs", "1.15.7", {"Sortable.min.js": "sortablejs/Sortable.min.js", "LICENSE": "sortablejs/LICENSE"}),
    *[
        (
            f"@fontsource/{font}",
            "5.3.0",
            {f"files/{font}-latin-{w}-normal.woff2": f"fonts/{font}-{w}.woff2" for w in weights}
            | {f"files/{font}-latin-ext-{w}-normal.woff2": f"fonts/{font}-ext-{w}.woff2" for w in weights}
            | {"LICENSE": f"fonts/{font}-LICENSE"},
        )
        for font, weights in WEIGHTS.items()
    ],
    ("lucide-static", "1.62.0", {f"icons/{i}.svg": f"icons/{i}.svg" for i in ICONS} | {"LICENSE": "icons/LICENSE"}),
]


def unpack(package: str, version: str, files: dict[str, str], into: Path) -> None:
    """Copy the wanted ``files`` of one npm package into the folder ``into``."""
    with tempfile.TemporaryDirectory() as tmp:
        run = subprocess.run(
            ["npm", "pack", "--silent", f"{package}@{version}"], cwd=tmp, check=True, capture_output=True, text=True
        )
        with tarfile.open(Path(tmp) / run.stdout.split()[-1]) as tar:
            for source, target in files.items():
                member = tar.extractfile(f"package/{source}")
                if member is None:
                    raise SystemExit(f"{package}@{version} has no file {source}")
                path = into / target
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_bytes(member.read())


BOOTSTRAP, SASS = "5.3.9", "1.108.2"


def bootstrap() -> None:
    """Bootstrap with the parts that ``bootstrap.scss`` names, in our colours and type."""
    with tempfile.TemporaryDirectory() as tmp:
        (Path(tmp) / "package.json").write_text("{}")
        subprocess.run(["npm", "install", "--silent", f"bootstrap@{BOOTSTRAP}", f"sass@{SASS}"], cwd=tmp, check=True)
        out = VENDOR / "bootstrap" / "bootstrap.min.css"
        out.parent.mkdir(parents=True, exist_ok=True)
        command = ["npx", "sass", "--load-path=node_modules", "--style=compressed", "--no-source-map", "--quiet-deps"]
        source = Path(__file__).with_name("bootstrap.scss")
        subprocess.run([*command, "--silence-deprecation=import", source, out], cwd=tmp, check=True)
        licence = Path(tmp) / "node_modules" / "bootstrap" / "LICENSE"
        (out.parent / "LICENSE").write_bytes(licence.read_bytes())


THREE, ESBUILD = "0.187.0", "0.28.2"
TURNTABLE = """
export {
  AmbientLight, CanvasTexture, Color, DirectionalLight, DoubleSide, Group, LinearFilter, LinearMipmapLinearFilter, Mesh,
  MeshStandardMaterial, PerspectiveCamera, Scene, SRGBColorSpace, Vector3, WebGLRenderer, Box3,
} from "three";
export { OrbitControls } from "three/addons/controls/OrbitControls.js";
export { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
"""
"""What the turntable uses of three.js; the rest is left out of the bundle."""


def turntable() -> None:
    """three.js with what the turntable uses, as one module."""
    with tempfile.TemporaryDirectory() as tmp:
        folder = Path(tmp)
        (folder / "entry.js").write_text(TURNTABLE)
        (folder / "package.json").write_text('{"type": "module"}')
        subprocess.run(["npm", "install", "--silent", f"three@{THREE}", f"esbuild@{ESBUILD}"], cwd=tmp, check=True)
        out = VENDOR / "three" / "three.min.js"
        out.parent.mkdir(parents=True, exist_ok=True)
        command = ["npx", "esbuild", "entry.js", "--bundle", "--minify", "--format=esm", "--legal-comments=none"]
        subprocess.run([*command, f"--outfile={out}"], cwd=tmp, check=True)
        (out.parent / "LICENSE").write_bytes((folder / "node_modules" / "three" / "LICENSE").read_bytes())
    names = re.findall(r"\w+(?=,|\s*\})", TURNTABLE)
    types = [f"export const {name}: any;\nexport type {name} = any;" for name in names]  # three.js has none of its own
    out.with_suffix(".d.ts").write_text("\n".join(types) + "\n")


PICOSVG = "0.23.0"

OUTLINER = r"""
import json, re, sys
from picosvg.svg import SVG
from picosvg.svg_pathops import union
from picosvg.svg_transform import Affine2D
from picosvg.svg_types import SVGPath

FINER = 4  # an arc becomes curves that miss it by up to a quarter of a unit: so many times as large it is not seen

def outline(body):
    drawn = (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {24 * FINER} {24 * FINER}"><g fill="none"'
             f' transform="scale({FINER})" stroke="#000" stroke-width="2" stroke-linecap="round"'
             f' stroke-linejoin="round">{body}</g></svg>')
    shapes = [shape.as_cmd_seq() for shape in SVG.fromstring(drawn).topicosvg(ndigits=3).shapes()]
    whole = SVGPath.from_commands(union(shapes, ["nonzero"] * len(shapes)))
    whole = whole.apply_transform(Affine2D.identity().scale(1 / FINER)).round_floats(2)
    return re.sub(r"\s*([A-Za-z])\s*", r"\1", whole.d).replace(",", " ")

print(json.dumps({name: outline(body) for name, body in json.load(sys.stdin).items()}))
"""


def outlined(bodies: dict[str, str]) -> dict[str, str]:
    """Each icon's strokes as one filled outline. A browser whose processor paints takes all that lies on one layer with
    some stroked curves several times over: outlined, the icons cost a stage click half as much."""
    with tempfile.TemporaryDirectory() as tmp:
        install = [sys.executable, "-m", "pip", "install", "-q", "--target", tmp, f"picosvg=={PICOSVG}"]
        subprocess.run(install, check=True)
        done = subprocess.run(
            [sys.executable, "-c", OUTLINER], input=json.dumps(bodies), env=os.environ | {"PYTHONPATH": tmp},
            check=True, capture_output=True, text=True,
        )  # fmt: skip
    return dict(json.loads(done.stdout))


def sprite() -> None:
    """Join the single icons to one SVG sprite, which stands in every page: a file of its own would come in late, so
    that icons flash, and each use of it costs a frame."""
    bodies = {}
    for name in sorted(ICONS):
        path = VENDOR / "icons" / f"{name}.svg"
        inner = re.search(r"<svg[^>]*>(.*)</svg>", path.read_text(), re.S)
        assert inner, name
        bodies[name] = re.sub(r"\s+", " ", inner.group(1)).strip()
        path.unlink()
    symbols = [
        f'<symbol id="icon-{name}" viewBox="0 0 24 24" fill="currentColor"><path d="{d}"/></symbol>'
        for name, d in outlined(bodies).items()
    ]
    (VENDOR / "icons" / "icons.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" hidden>\n' + "\n".join(symbols) + "\n</svg>\n"
    )


def letters() -> None:
    """The fonts that paper names, as TrueType: what prints would unpack each of them again for every print, in a third
    of a second."""
    for name in re.findall(r"fonts/([\w-]+)\.ttf", PAPER.read_text()):
        woff2.decompress(VENDOR / "fonts" / f"{name}.woff2", VENDOR / "fonts" / f"{name}.ttf")


def main() -> None:
    for package, version, files in PACKAGES:
        unpack(package, version, files, VENDOR)
    letters()
    sprite()
    bootstrap()
    turntable()
    unpack("axe-core", "4.14.1", {"axe.min.js": "axe.min.js", "LICENSE": "LICENSE"}, AXE)
    write_manifest()


def write_manifest() -> None:
    """What is there, of which version, and what is in it."""
    manifest = {
        "packages": {package: version for package, version, _ in PACKAGES} | {"bootstrap": BOOTSTRAP, "three": THREE},
        "sha256": {
            str(p.relative_to(VENDOR)): hashlib.sha256(p.read_bytes()).hexdigest()
            for p in sorted(VENDOR.rglob("*"))
            if p.is_file() and p.name != "manifest.json"
        },
    }
    (VENDOR / "manifest.json").write_text(json.dumps(manifest, indent=1) + "\n")


if __name__ == "__main__":
    main()
