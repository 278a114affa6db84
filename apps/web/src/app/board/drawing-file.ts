import { download } from '../controls/download';

/** Hands a drawing on as a file: as it is, or in pixels. `name` is without an ending. */
export async function downloadDrawing(name: string, svg: string, how: 'svg' | 'png'): Promise<void> {
  if (how === 'svg') download(`${name}.svg`, svg, 'image/svg+xml');
  else download(`${name}.png`, await pngOf(svg));
}

/** More pixels than this, in width or height, are not drawn. */
const PIXELS = 4000;

/** A drawing in pixels (PNG): an SVG drawn on a canvas. */
async function pngOf(svg: string): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  const scale = Math.min(2, PIXELS / Math.max(image.width, image.height));
  canvas.width = Math.round(image.width * scale);
  canvas.height = Math.round(image.height * scale);
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) => {
    canvas.toBlob((blob) => (blob === null ? reject(new Error('It could not be drawn')) : resolve(blob)));
  });
}
