/**
 * Makes a canvas as large as its view, in pixels of the screen, and clears it.
 * @param width, height of the view, in CSS pixels
 * @returns what is drawn with, in pixels of the screen
 */
export function clearedCanvas(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  const [w, h] = [width, height].map((length) => Math.max(1, Math.round(length * window.devicePixelRatio)));
  // Its memory is allocated anew whenever a size is set, even the same.
  if (canvas.width !== w) canvas.width = w!;
  if (canvas.height !== h) canvas.height = h!;
  const context = canvas.getContext('2d');
  context?.resetTransform();
  context?.clearRect(0, 0, canvas.width, canvas.height);
  return context;
}
