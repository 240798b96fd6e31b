import { useView } from "../store/view";

/** Ways to look at a picture to judge it, each a key away. */
export const JUDGING = [
  ["silhouettes", "Alt+1", "Figures as silhouettes"],
  ["lines", "Alt+2", "Line drawing"],
  ["values3", "Alt+3", "Three greys"],
  ["values5", "Alt+4", "Five greys"],
  ["squint", "Alt+5", "Squint: strongly blurred"],
] as const;

/** Of the picture's height, what a squint blurs. */
const SQUINT = 1 / 28;

/** What is done to the finished picture, and whether it is seen in a mirror. */
export function useJudged(high: number): React.CSSProperties {
  const judge = useView((s) => s.looks.judge);
  const mirrored = useView((s) => s.looks.mirrored);
  const filter = {
    "": undefined, silhouettes: undefined, lines: "url(#judge-lines)", values3: "url(#judge-values3)",
    values5: "url(#judge-values5)", squint: `blur(${(high * SQUINT).toFixed(1)}px)`,
  }[judge]; // biome-ignore format: one look
  return { filter, transform: mirrored ? "scaleX(-1)" : undefined };
}

/** The filters that those looks are made with: greys in steps, and lines where brightness changes. */
export function JudgeFilters() {
  const steps = (count: number) =>
    Array.from({ length: count }, (_, i) => (i / (count - 1)).toFixed(3)).join(" ");
  return (
    <svg width="0" height="0" className="absolute" aria-hidden="true">
      <defs>
        {[3, 5].map((count) => (
          <filter key={count} id={`judge-values${count}`} colorInterpolationFilters="sRGB">
            <feColorMatrix type="saturate" values="0" />
            <feComponentTransfer>
              <feFuncR type="discrete" tableValues={steps(count)} />
              <feFuncG type="discrete" tableValues={steps(count)} />
              <feFuncB type="discrete" tableValues={steps(count)} />
            </feComponentTransfer>
          </filter>
        ))}
        <filter id="judge-lines" colorInterpolationFilters="sRGB">
          <feColorMatrix type="saturate" values="0" />
          <feConvolveMatrix
            order="3"
            kernelMatrix="-1 -1 -1 -1 8 -1 -1 -1 -1"
            preserveAlpha="true"
            edgeMode="duplicate"
          />
          <feComponentTransfer>
            <feFuncR type="linear" slope="-5" intercept="1" />
            <feFuncG type="linear" slope="-5" intercept="1" />
            <feFuncB type="linear" slope="-5" intercept="1" />
          </feComponentTransfer>
        </filter>
      </defs>
    </svg>
  );
}
