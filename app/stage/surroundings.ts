import * as THREE from 'three';
import { RoomEnvironment } from 'three/addons/environments/RoomEnvironment.js';

/**
 * What the model stands in: a room's soft light, two lamps that go with the eye, and a shadow below. Drawn in software, a sky takes
 * the place of the room.
 */
export class Surroundings {
  private readonly ground = makeGround();

  constructor(
    private readonly scene: THREE.Scene,
    camera: THREE.Camera,
    renderer: THREE.WebGLRenderer,
    isSoftware: boolean,
  ) {
    if (isSoftware) scene.add(makeSky());
    else this.lightByRoom(renderer);
    const key = new THREE.DirectionalLight('#fffaf0', 1.6);
    key.position.set(0.4, 0.7, 1);
    const fill = new THREE.DirectionalLight('#dfe8f0', 0.5);
    fill.position.set(-1, 0.1, 0.4);
    camera.add(key, fill);
    scene.add(camera, this.ground);
  }

  private lightByRoom(renderer: THREE.WebGLRenderer): void {
    const generator = new THREE.PMREMGenerator(renderer);
    this.scene.environment = generator.fromScene(new RoomEnvironment(), 0.04).texture;
    this.scene.environmentIntensity = 0.62;
    // The room's lamps hang along y; the model stands along z.
    this.scene.environmentRotation.set(Math.PI / 2, 0, 0);
    generator.dispose();
  }

  /** Lays the shadow under a model. */
  standUnder(bounds: THREE.Box3): void {
    const size = bounds.getSize(new THREE.Vector3());
    const centre = bounds.getCenter(new THREE.Vector3());
    const reach = Math.max(size.x, size.y) * 1.5;
    this.ground.scale.set(reach, reach, 1);
    this.ground.position.set(centre.x, centre.y, bounds.min.z - size.length() * 0.002);
  }

  showShadow(on: boolean): void {
    this.ground.visible = on;
  }

  dispose(): void {
    this.scene.environment?.dispose();
    this.ground.geometry.dispose();
    const material = this.ground.material as THREE.MeshBasicMaterial;
    material.map?.dispose();
    material.dispose();
  }
}

/** Light from above and a little from below: what stands for the room where filtering its picture would take seconds. */
function makeSky(): THREE.Light {
  const sky = new THREE.HemisphereLight('#ffffff', '#c9c2b4', 2.7);
  sky.position.set(0, 0, 1);
  return sky;
}

/** A soft shadow under the model, so that it stands on something. */
function makeGround(): THREE.Mesh {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 256;
  const context = canvas.getContext('2d')!;
  const gradient = context.createRadialGradient(128, 128, 10, 128, 128, 128);
  gradient.addColorStop(0, 'rgba(35, 30, 20, 0.34)');
  gradient.addColorStop(0.45, 'rgba(35, 30, 20, 0.13)');
  gradient.addColorStop(1, 'rgba(35, 30, 20, 0)');
  context.fillStyle = gradient;
  context.fillRect(0, 0, 256, 256);
  const material = new THREE.MeshBasicMaterial({
    map: new THREE.CanvasTexture(canvas),
    transparent: true,
    depthWrite: false,
    toneMapped: false,
  });
  return new THREE.Mesh(new THREE.PlaneGeometry(1, 1), material);
}

/** Whether there is no graphics card behind WebGL. */
export function drawsInSoftware(): boolean {
  const context = document.createElement('canvas').getContext('webgl2');
  const name = context?.getParameter(
    context.getExtension('WEBGL_debug_renderer_info')?.UNMASKED_RENDERER_WEBGL ?? context.RENDERER,
  );
  context?.getExtension('WEBGL_lose_context')?.loseContext();
  return /swiftshader|llvmpipe|software/i.test(String(name));
}
