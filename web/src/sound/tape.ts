/** What a microphone hears, block by block, with the sample each begins on; it runs beside the page. */
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare const currentFrame: number;
declare function registerProcessor(name: string, made: typeof AudioWorkletProcessor): void;

registerProcessor(
  "tape",
  class extends AudioWorkletProcessor {
    process([[heard]]: Float32Array[][]): boolean {
      if (heard) this.port.postMessage({ at: currentFrame, heard: heard.slice() });
      return true;
    }
  },
);
