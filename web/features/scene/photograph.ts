/** Small pictures of a scene, for the shelf of projects. */
import { WebGLRenderTarget } from 'three';
import type { Stage } from './stage';

/** The view as a small picture. @param paper colour behind it @returns a data address; undefined while nothing is shown */
export async function photograph(stage: Stage, width: number, height: number, paper: string): Promise<string | undefined> {
  const { exposed } = stage;
  if (!exposed) return undefined;
  const { renderer, scene, camera, canvas } = exposed;
  // apart from the canvas, at twice the size, and read when the graphics processor is done: the page does not wait for it
  const { width: full, height: tall } = canvas,
    k = 2 * Math.max(width / full, height / tall),
    w = Math.round(full * k),
    h = Math.round(tall * k);
  const target = new WebGLRenderTarget(w, h),
    pixels = new Uint8Array(4 * w * h);
  renderer.setRenderTarget(target);
  renderer.render(scene, camera);
  renderer.setRenderTarget(null);
  await renderer.readRenderTargetPixelsAsync(target, 0, 0, w, h, pixels).finally(() => target.dispose());
  const whole = new OffscreenCanvas(w, h),
    small = new OffscreenCanvas(width, height),
    g = small.getContext('2d')!;
  whole.getContext('2d')!.putImageData(upright(pixels, w, h), 0, 0);
  g.fillStyle = paper;
  g.fillRect(0, 0, width, height);
  g.drawImage(whole, (width - w / 2) / 2, (height - h / 2) / 2, w / 2, h / 2);
  const blob = await small.convertToBlob({ type: 'image/webp', quality: 0.8 });
  return new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => resolve(undefined);
    reader.readAsDataURL(blob);
  });
}

/** Linear light, 0 to 255, as screens take it (IEC 61966-2-1). */
const SHOWN = Uint8ClampedArray.from({ length: 256 }, (_, i) => {
  const x = i / 255;
  return 255 * (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055);
});
/** Pixels as drawn, the lowest row first and in linear light, as a picture. */
function upright(pixels: Uint8Array, width: number, height: number): ImageData {
  const out = new ImageData(width, height),
    { data } = out,
    row = 4 * width;
  for (let y = 0; y < height; y++)
    for (let x = 0, p = y * row, q = (height - 1 - y) * row; x < row; x += 4, p += 4, q += 4) {
      for (let c = 0; c < 3; c++) data[q + c] = SHOWN[pixels[p + c]!]!;
      data[q + 3] = pixels[p + 3]!;
    }
  return out;
}
