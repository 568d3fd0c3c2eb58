/* The board as a solid to turn. Every point of its surface knows where it lies in its strip, and takes its colour from
   the picture of that strip's end: rings on end grain run on down the sides as long grain, so edges and face agree. */
import {
  AmbientLight, Box3, CanvasTexture, DirectionalLight, LinearFilter, Mesh,
  MeshStandardMaterial, PerspectiveCamera, Scene, SRGBColorSpace, Vector3, WebGLRenderer, OrbitControls, GLTFLoader,
} from "../vendor/three/three.min.js";

const CELL = 160;

async function atlas({ atlas: href, strips }) {
  const across = Math.ceil(Math.sqrt(strips.length));
  const canvas = document.createElement("canvas");
  canvas.width = across * CELL;
  canvas.height = Math.ceil(strips.length / across) * CELL;
  const context = canvas.getContext("2d");
  const image = new Image();
  image.src = href;
  await image.decode();
  strips.forEach(([x, y, wide, tall], number) => {
    context.drawImage(image, x, y, wide, tall, (number % across) * CELL, Math.floor(number / across) * CELL, CELL, CELL);
  });
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = SRGBColorSpace;
  texture.flipY = false;
  texture.generateMipmaps = false;
  texture.minFilter = LinearFilter;
  return { texture, across, down: canvas.height / CELL };
}

/** Flat-shaded wood: the colour of the strip's end at (x, z), with fine streaks along the fibre on long grain. */
function wood({ texture, across, down }) {
  const material = new MeshStandardMaterial({ roughness: 0.62, metalness: 0, flatShading: true });
  material.onBeforeCompile = (shader) => {
    shader.uniforms.atlas = { value: texture };
    shader.vertexShader = shader.vertexShader
      .replace("#include <common>", "#include <common>\nattribute vec3 inStrip;\nattribute vec4 sheet;\nvarying vec3 vIn;\nvarying vec4 vSheet;")
      .replace("#include <begin_vertex>", "#include <begin_vertex>\nvIn = inStrip;\nvSheet = sheet;");
    shader.fragmentShader = shader.fragmentShader
      .replace("#include <common>", `#include <common>
        uniform sampler2D atlas; varying vec3 vIn; varying vec4 vSheet;
        float grit(vec2 p) { return fract(sin(dot(p, vec2(12.9898, 78.233))) * 43758.5453); }
        float streak(vec2 p) { vec2 i = floor(p); vec2 f = fract(p); f = f * f * (3.0 - 2.0 * f);
          return mix(mix(grit(i), grit(i + vec2(1, 0)), f.x), mix(grit(i + vec2(0, 1)), grit(i + vec2(1, 1)), f.x), f.y); }`)
      .replace("#include <color_fragment>", `
        vec2 q = clamp(vIn.xz / vSheet.zw, 0.004, 0.996);
        vec3 end = texture2D(atlas, (vSheet.xy + q) / vec2(${across.toFixed(1)}, ${down.toFixed(1)})).rgb;
        vec3 du = dFdx(vIn); vec3 dv = dFdy(vIn);
        float endGrain = abs(normalize(cross(du, dv)).y);
        float along = streak(vec2(vIn.x * 1.7 + vIn.z * 2.3, vIn.y * 0.06)) - 0.5;
        diffuseColor.rgb = end * (1.0 + (1.0 - smoothstep(0.3, 0.9, endGrain)) * along * 0.16);`);
  };
  return material;
}

let shown = null;

/** Give back what the solid on show holds on the graphics card; browsers keep only a few such contexts. */
export function leave() {
  if (!shown) return;
  const { scene, material, sheet, renderer, controls, watcher } = shown;
  shown = null;
  watcher.disconnect();
  controls.dispose();
  scene.traverse((part) => part.geometry?.dispose());
  material.dispose();
  sheet.texture.dispose();
  renderer.dispose();
  renderer.forceContextLoss();
}

async function show(box) {
  const [found, solid] = await Promise.all([
    fetch(box.dataset.strips).then((answer) => answer.json()),
    new GLTFLoader().loadAsync(box.dataset.solid),
  ]);
  const sheet = await atlas(found);
  if (!box.isConnected) return;
  const material = wood(sheet);
  const scene = new Scene();
  solid.scene.updateMatrixWorld(true);
  const parts = [];
  solid.scene.traverse((part) => { if (part.isMesh) parts.push(part); });
  for (const part of parts) {
    const geometry = part.geometry;
    const strip = geometry.getAttribute("_strip");
    const sheets = new Float32Array(strip.count * 4);
    for (let k = 0; k < strip.count; k += 1) {
      const number = Math.round(strip.getX(k));
      const [width, thickness] = found.strips[number].slice(4);
      sheets.set([number % sheet.across, Math.floor(number / sheet.across), width, thickness], k * 4);
    }
    geometry.setAttribute("sheet", new strip.constructor(sheets, 4));
    geometry.setAttribute("inStrip", geometry.getAttribute("_local"));
    const mesh = new Mesh(geometry, material);
    mesh.applyMatrix4(part.matrixWorld);
    scene.add(mesh);
  }
  const bounds = new Box3().setFromObject(scene);
  const middle = bounds.getCenter(new Vector3());
  const reach = bounds.getSize(new Vector3()).length();
  for (const mesh of scene.children) mesh.position.sub(middle);
  scene.add(new AmbientLight(0xffffff, 1.5));
  const sun = new DirectionalLight(0xffffff, 2.3);
  sun.position.set(-0.5, 1.2, 0.7);
  scene.add(sun);

  const renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
  renderer.setPixelRatio(Math.min(window.devicePixelRatio || 1, 2));
  const canvas = renderer.domElement;
  canvas.tabIndex = 0;
  canvas.setAttribute("role", "img");
  canvas.setAttribute("aria-label", "The board as a solid. Arrow keys turn it, + and − come nearer and go away.");
  box.replaceChildren(canvas);
  box.hidden = false;
  const camera = new PerspectiveCamera(32, 1, reach / 50, reach * 20);
  camera.position.set(0.55, 0.85, 1.05).multiplyScalar(reach * 1.12);
  const controls = new OrbitControls(camera, canvas);
  controls.enablePan = false;
  controls.minDistance = reach * 0.5;
  controls.maxDistance = reach * 4;

  let waiting = 0;
  const draw = () => { waiting = 0; if (box.isConnected) renderer.render(scene, camera); };
  const ask = () => { if (!waiting) waiting = window.requestAnimationFrame(draw); };
  const size = () => {
    const { width, height } = box.getBoundingClientRect();
    if (!width || !height) return;
    renderer.setSize(width, height);
    camera.aspect = width / height;
    camera.updateProjectionMatrix();
    ask();
  };
  controls.addEventListener("change", ask);
  const watcher = new ResizeObserver(size);
  watcher.observe(box);
  shown = { scene, material, sheet, renderer, controls, watcher };
  const turn = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  canvas.addEventListener("keydown", (event) => {
    const by = turn[event.key];
    const nearer = { "+": 0.85, "=": 0.85, "-": 1.18 }[event.key];
    if (!by && !nearer) return;
    event.preventDefault();
    event.stopPropagation();
    const at = camera.position;
    const r = at.length() * (nearer ?? 1);
    const round = Math.atan2(at.x, at.z) + (by?.[0] ?? 0) * 0.13;
    const up = Math.min(1.5, Math.max(-1.5, Math.asin(at.y / at.length()) + (by?.[1] ?? 0) * -0.11));
    at.set(Math.sin(round) * Math.cos(up), Math.sin(up), Math.cos(round) * Math.cos(up)).multiplyScalar(r);
    camera.lookAt(0, 0, 0);
    controls.update();
    ask();
  });
  size();
  draw();
  box.dataset.shown = "yes";
  box.closest("#room").classList.add("turned");
}

/** @param {HTMLElement} box names the solid and its pictures */
export function turntable(box) {
  leave();
  return show(box).catch((error) => {
    // no WebGL here: the drawing from a corner stays
    box.hidden = true;
    box.dataset.shown = "no";
    box.title = String(error);
  });
}

