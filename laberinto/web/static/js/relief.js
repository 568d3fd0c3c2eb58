/* The wood on the simulated machine, to be turned while it comes off. The server sends it anew as it is carved. */
import {
  AmbientLight, Box3, DirectionalLight, GLTFLoader, OrbitControls, PerspectiveCamera, Scene, Vector3, WebGLRenderer,
} from "../vendor/three/three.min.js";

let shown = null;

/** @param {any} box */
function stage(box) {
  const scene = new Scene();
  scene.add(new AmbientLight(0xffffff, 1.2));
  const sun = new DirectionalLight(0xffffff, 2.6);
  sun.position.set(-0.7, 0.9, 0.6);
  scene.add(sun);
  const renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
  const canvas = renderer.domElement;
  canvas.setAttribute("role", "img");
  canvas.setAttribute("aria-label", "The wood as it is carved; drag to turn it");
  box.replaceChildren(canvas);
  const camera = new PerspectiveCamera(32, 1, 0.01, 20);
  const controls = new OrbitControls(camera, canvas);
  controls.enablePan = false;
  const draw = () => renderer.render(scene, camera);
  const size = () => {
    const { width, height } = box.getBoundingClientRect();
    if (!width || !height) return;
    renderer.setSize(width, height);
    camera.aspect = width / height;
    camera.updateProjectionMatrix();
    draw();
  };
  controls.addEventListener("change", draw);
  new ResizeObserver(size).observe(box);
  return { box, scene, camera, controls, size, draw, wood: null };
}

/** @param {any} box  @param {string} address of the solid */
export async function relief(box, address) {
  if (shown?.box !== box) shown = stage(box);
  const here = shown;
  const solid = await new GLTFLoader().loadAsync(address);
  if (here !== shown) return;
  const first = !here.wood;
  if (here.wood) {
    here.scene.remove(here.wood);
    here.wood.traverse((part) => part.geometry?.dispose());
  }
  here.wood = solid.scene;
  const bounds = new Box3().setFromObject(here.wood);
  here.wood.position.sub(bounds.getCenter(new Vector3()));
  here.scene.add(here.wood);
  if (first) {
    const reach = bounds.getSize(new Vector3()).length();
    here.camera.position.set(0, 1.05, 0.85).multiplyScalar(reach * 1.15);
    here.camera.lookAt(0, 0, 0);
    here.controls.update();
  }
  here.size();
  here.draw();
  box.dataset.shown = "yes";
}
