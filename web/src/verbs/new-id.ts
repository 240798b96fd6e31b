/** A fresh id, so that what is made can be selected as soon as it is there. */
export const newId = (prefix: string): string =>
  `${prefix}-${crypto.randomUUID().slice(0, 12).replaceAll("-", "")}`;
