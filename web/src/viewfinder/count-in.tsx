/** A number counted down over the picture. */
export function CountIn({ count }: { count: number }) {
  return (
    <p
      className="absolute inset-0 grid place-items-center text-[7rem] leading-none font-semibold text-white [text-shadow:0_0_12px_rgb(0_0_0/0.7)]"
      role="status"
    >
      {count}
    </p>
  );
}
