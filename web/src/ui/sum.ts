/**
 * What somebody typed into a number: a number, a sum such as `3*24` or `1/3`, `by 0.5` to add to what is there, and
 * where frames are counted, seconds such as `2.5s`. NaN for anything else.
 */
export function typed(text: string, was: number, perSecond?: number): number {
  let rest = text.trim().toLowerCase().replaceAll(",", ".").replace(/^f\//, "");
  const adds = /^by\s+/.test(rest);
  rest = rest.replace(/^by\s+/, "");
  if (/^[+-]?(inf|infinity|∞)$/.test(rest)) return adds ? Number.NaN : Number.POSITIVE_INFINITY;
  const parts = rest.match(/\d+\.?\d*(?:e[+-]?\d+)?s?|\.\d+s?|[-+*/()]|\S/g) ?? [];
  let at = 0;

  const one = (): number => {
    const part = parts[at++];
    if (part === "-") return -one();
    if (part === "+") return one();
    if (part === "(") {
      const inside = sum();
      return parts[at++] === ")" ? inside : Number.NaN;
    }
    if (part === undefined || !/^[\d.]/.test(part)) return Number.NaN;
    if (!part.endsWith("s")) return Number(part);
    return perSecond ? Number(part.slice(0, -1)) * perSecond : Number.NaN;
  };
  const product = (): number => {
    let value = one();
    while (parts[at] === "*" || parts[at] === "/")
      value = parts[at++] === "*" ? value * one() : value / one();
    return value;
  };
  const sum = (): number => {
    let value = product();
    while (parts[at] === "+" || parts[at] === "-")
      value = parts[at++] === "+" ? value + product() : value - product();
    return value;
  };

  const value = sum();
  if (at < parts.length || !Number.isFinite(value)) return Number.NaN;
  return adds ? was + value : value;
}
