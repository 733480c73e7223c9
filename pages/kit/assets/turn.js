// A picture from solids, turned by finger or mouse: the same parts in three, loaded when somebody asks for it.
import {
  Box3,
  Color,
  EdgesGeometry,
  HemisphereLight,
  DirectionalLight,
  LineBasicMaterial,
  LineSegments,
  MeshLambertMaterial,
  OrthographicCamera,
  Plane,
  Scene,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";

const creaseDeg = 30;
const far = 4000; // mm from which one looks; the rays are parallel

const night = () =>
  document.documentElement.dataset.theme === "dark" ||
  (document.documentElement.dataset.theme !== "light" && matchMedia("(prefers-color-scheme: dark)").matches);

// dress gives each part the colours of its role, and its edges.
const dress = (model, cuts, dark) => {
  const planes = cuts.map(([n, p]) => {
    const normal = new Vector3(...n).normalize().negate();
    return new Plane(normal, -normal.dot(new Vector3(...p)));
  });
  const meshes = [];
  model.traverse((o) => o.isMesh && meshes.push(o));
  for (const mesh of meshes) {
    const colours = mesh.material.userData[dark ? "night" : "day"];
    const clip = mesh.material.userData.cut ? planes : [];
    mesh.material = new MeshLambertMaterial({
      color: new Color(colours[0]),
      flatShading: true,
      clippingPlanes: clip,
      clipIntersection: true,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    const line = new LineBasicMaterial({
      color: new Color(colours[1]),
      clippingPlanes: clip,
      clipIntersection: true,
    });
    mesh.add(new LineSegments(new EdgesGeometry(mesh.geometry, creaseDeg), line));
  }
};

// turn shows the solids of a file on a canvas, as the picture stood, until it is taken away again.
export const turn = async (url, canvas, says) => {
  const renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
  renderer.localClippingEnabled = true;
  const { scene: model, userData } = await new GLTFLoader().loadAsync(url);
  const { along, up, middle, width, cuts } = userData.view;
  dress(model, cuts || [], night());
  const scene = new Scene();
  scene.add(model, new HemisphereLight(0xffffff, 0x9a9a96, 2.2));
  const light = new DirectionalLight(0xffffff, 1.4);
  const camera = new OrthographicCamera();
  camera.up.set(...up);
  const at = new Vector3(...middle);
  camera.position.copy(at).addScaledVector(new Vector3(...along), -far);
  camera.near = 1;
  camera.far = 2 * far + new Box3().setFromObject(model).getSize(new Vector3()).length();
  camera.add(light);
  light.position.set(-0.45, 0.7, 0.56);
  scene.add(camera);
  const controls = new OrbitControls(camera, canvas);
  controls.target.copy(at);
  controls.enablePan = false;
  const draw = () => {
    const { clientWidth: w, clientHeight: h } = canvas;
    if (!w || !h) return;
    renderer.setPixelRatio(devicePixelRatio);
    renderer.setSize(w, h, false);
    camera.right = Math.max(width, (width * 0.7 * w) / h) / 2; // the picture is 10 wide to 7
    camera.left = -camera.right;
    camera.top = (camera.right * h) / w;
    camera.bottom = -camera.top;
    camera.updateProjectionMatrix();
    renderer.render(scene, camera);
  };
  const step = Math.PI / 12;
  const byKey = (e) => {
    const way = { ArrowLeft: [step, 0], ArrowRight: [-step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[
      e.key
    ];
    if (!way) return;
    e.preventDefault();
    const axis = way[0]
      ? camera.up
      : new Vector3().subVectors(camera.position, at).cross(camera.up).normalize();
    const to = new Vector3().subVectors(camera.position, at).applyAxisAngle(axis, way[0] || way[1]);
    camera.position.copy(at).add(to);
    controls.update();
  };
  controls.addEventListener("change", draw);
  canvas.addEventListener("keydown", byKey);
  const watch = new ResizeObserver(draw);
  watch.observe(canvas);
  canvas.setAttribute("aria-label", says);
  controls.update();
  draw();
  return () => {
    watch.disconnect();
    controls.dispose();
    renderer.dispose();
  };
};
