/** A picture with a line under it that says which frame it is: below the picture, which stays whole. */
export async function withSlate(
  scene: number,
  picture: Blob,
  of: { camera: string; stage: number; cut?: number },
): Promise<Blob> {
  const query = new URLSearchParams(Object.entries(of).map(([name, value]) => [name, String(value)]));
  const answer = await fetch(`/api/scenes/${scene}/slate?${query}`, {
    method: "POST",
    body: picture,
    headers: { "Content-Type": "image/png" },
  });
  if (!answer.ok) throw new Error((await answer.json()).detail);
  return answer.blob();
}
