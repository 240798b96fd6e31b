/** "1 key", "3 keys". */
export const count = (n: number, what: string): string => `${n} ${what}${n === 1 ? "" : "s"}`;
