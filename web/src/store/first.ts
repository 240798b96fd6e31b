/** Told once the first picture stands; or after a while, where there is nothing to draw it with. */
let tell: () => void = () => {};
const told = new Promise<void>((done) => {
  tell = done;
});

export const firstPicture = (): void => tell();

/** For what the first picture does not need. */
export const afterFirstPicture = (): Promise<void> =>
  Promise.race([told, new Promise<void>((done) => setTimeout(done, 2500))]);
