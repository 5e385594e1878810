import { base64Of } from '../ui/base64.ts';

const longestSide = 2000;
const shrinkable = ['image/jpeg', 'image/png', 'image/webp'];

/** A file as it is sent: pictures no longer than 2,000 at their longest side, and without what the camera wrote into them. */
export async function fileToSend(file: File): Promise<{ fileName: string; base64: string }> {
  const content = shrinkable.includes(file.type) ? await shrunk(file) : file;
  return { fileName: file.name.slice(-200), base64: await base64Of(content) };
}

async function shrunk(file: File): Promise<Blob> {
  const picture = await createImageBitmap(file).catch(() => null);
  // What is no picture after all is judged by the server.
  if (!picture) return file;
  const scale = Math.min(1, longestSide / Math.max(picture.width, picture.height));
  const canvas = new OffscreenCanvas(Math.max(1, Math.round(picture.width * scale)), Math.max(1, Math.round(picture.height * scale)));
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  return canvas.convertToBlob({ type: file.type === 'image/png' && file.size < 500_000 ? 'image/png' : 'image/jpeg', quality: 0.85 });
}
