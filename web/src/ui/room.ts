import type { CSSProperties } from "react";

/**
 * A picture's room, as large as ``wide`` and ``high`` (lengths as style sheets have them) let its ``ratio`` of width to height
 * be. It is there before the picture has come: what a hand is about to click beside it must not move.
 */
export const room = (ratio: number, wide: string, high: string): CSSProperties => ({
  width: `min(${wide}, calc(${high} * ${ratio}))`,
  aspectRatio: ratio,
});
