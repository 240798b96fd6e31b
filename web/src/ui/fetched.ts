const AGAIN_MS = 1500;

/**
 * A part of the desk that comes later: asked for until it is there.
 * A server that is gone for a while must not leave a hole where the part would stand.
 */
export async function fetched<T>(load: () => Promise<T>): Promise<T> {
  for (;;) {
    try {
      return await load();
    } catch {
      await new Promise((go) => setTimeout(go, AGAIN_MS));
    }
  }
}
