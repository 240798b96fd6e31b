/** How high the slate's letters are, as a share of the picture's height. */
const LETTERS = 0.022;

/** A picture with a line under it that says which frame it is: below the picture, which stays whole. */
export async function withSlate(picture: Blob, text: string): Promise<Blob> {
  const image = await createImageBitmap(picture);
  const size = Math.max(Math.round(image.height * LETTERS), 11);
  const band = 2 * Math.round(size * 0.9);
  const canvas = new OffscreenCanvas(image.width, image.height + band);
  const pen = canvas.getContext("2d");
  if (!pen) throw new Error("The slate could not be written.");
  pen.fillStyle = "#111";
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(image, 0, 0);
  pen.fillStyle = "#eee";
  pen.textBaseline = "middle";
  let letters = size;
  do pen.font = `${letters}px Barlow, sans-serif`;
  while (pen.measureText(text).width > image.width - size && --letters > 6);
  pen.fillText(text, size / 2, image.height + band / 2);
  return canvas.convertToBlob({ type: "image/png" });
}
