/** A chart as a picture: as it is drawn on the screen, or in lines and letters. */
import type { Chart } from 'chart.js';
import { download, fileName } from './download';

/** The chart, with the face its canvas carries. */
const chartOf = (canvas: HTMLCanvasElement): Chart | undefined => (canvas as HTMLCanvasElement & { plot?: Chart }).plot;

export function savePng(canvas: HTMLCanvasElement, name: string): void {
  canvas.toBlob((b) => b && download(`${fileName(name)}.png`, b, 'image/png'));
}

/** The chart draws itself once more, into a picture of lines instead of its canvas. */
export async function svgOf(canvas: HTMLCanvasElement): Promise<string | undefined> {
  const chart = chartOf(canvas);
  if (!chart) return undefined;
  const { Context } = await import('svgcanvas');
  const context = new Context(chart.width, chart.height), own = chart.ctx;
  try {
    Object.assign(chart, { ctx: context });
    chart.draw();
  } finally {
    Object.assign(chart, { ctx: own });
    chart.draw();
  }
  return context.getSerializedSvg(true);
}

export async function saveSvg(canvas: HTMLCanvasElement, name: string): Promise<void> {
  const svg = await svgOf(canvas);
  if (svg) download(`${fileName(name)}.svg`, svg, 'image/svg+xml');
}
