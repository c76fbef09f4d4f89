/** A chart as a picture: as it is drawn on the screen, or in lines and letters. */
import type { Chart, ChartConfiguration, ChartDataset, ChartOptions } from 'chart.js';
import { download, fileName } from '../files/download';

/** The chart, with the face its canvas carries. */
const chartOf = (canvas: HTMLCanvasElement): Chart | undefined => (canvas as HTMLCanvasElement & { plot?: Chart }).plot;

export function savePng(canvas: HTMLCanvasElement, name: string): void {
  canvas.toBlob((b) => b && download(`${fileName(name)}.png`, b, 'image/png'));
}

/** The same chart once more, on a canvas that writes what is drawn as SVG. */
export async function svgOf(canvas: HTMLCanvasElement): Promise<string | undefined> {
  const shown = chartOf(canvas);
  if (!shown) return undefined;
  const [{ Context }, { BasicPlatform, Chart }] = await Promise.all([import('svgcanvas'), import('chart.js')]);
  const { width, height } = shown,
    context = new Context(width, height),
    page = { width, height, style: {}, getContext: () => context };
  Object.assign(context, { canvas: page });
  const { options, plugins } = shown.config as ChartConfiguration<'line'>;
  const twin = new Chart(page as unknown as HTMLCanvasElement, {
    type: 'line',
    platform: BasicPlatform,
    // a line with segments is drawn stroke by stroke, others from a path that only a canvas knows
    data: { datasets: (shown.data.datasets as ChartDataset<'line'>[]).map((d) => ({ ...d, segment: { borderWidth: () => undefined } })) },
    options: {
      ...options,
      scales: { ...shown.options.scales },
      plugins: shown.options.plugins,
      responsive: false,
      devicePixelRatio: 1,
      events: [],
    } as ChartOptions<'line'>,
    plugins: plugins?.filter((p) => p.id === 'marks') ?? [],
  });
  twin.draw();
  const svg = context.getSerializedSvg(true);
  twin.destroy();
  return svg;
}

export async function saveSvg(canvas: HTMLCanvasElement, name: string): Promise<void> {
  const svg = await svgOf(canvas);
  if (svg) download(`${fileName(name)}.svg`, svg, 'image/svg+xml');
}
