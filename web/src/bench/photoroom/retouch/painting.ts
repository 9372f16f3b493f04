/** How a stroke is seen while it is drawn: the source in it, as the photo will be covered; or a tint where none is chosen. */
import type { Point } from "../../../geometry/placing";
import { back, type Seen, type Source } from "./seen";

/** What is being drawn: points of the photo, how hard they were pressed, where their source lies. */
export interface Drawing {
  points: Point[];
  pressed: number[];
  source?: Source;
}
export interface Brush {
  outlined: boolean;
  /** Photo px. */
  radius: number;
  soft: number;
  strength: number;
}
type Context = CanvasRenderingContext2D;

/** Sets photo px as what is drawn in. */
export const onto = (on: Context, seen: Seen, dots: number) =>
  on.setTransform(seen.k * dots, 0, 0, seen.k * dots, seen.x * dots, seen.y * dots);

export function wiped(on: Context) {
  on.setTransform(1, 0, 0, 1, 0, 0);
  on.globalCompositeOperation = "source-over";
  on.globalAlpha = 1;
  on.clearRect(0, 0, on.canvas.width, on.canvas.height);
}

/** Draws a stroke or an outline as it will be, over what is there of others; ``photo`` draws the photo. */
export function ahead(
  to: Context,
  seen: Seen,
  dots: number,
  what: Drawing,
  brush: Brush,
  photo: (on: Context) => void,
) {
  const on = emptyCanvas(to);
  if (!on) return;
  onto(on, seen, dots);
  if (brush.outlined) enclosed(on, what.points);
  else stroke(on, what, brush, seen.k * dots);
  on.globalCompositeOperation = "source-in";
  const { source } = what;
  if (source) {
    // The way back from the source to the place it covers.
    const [a, b, c, d] = back(source);
    const det = a * d - b * c;
    const [p, q, r, s] = [d / det, -b / det, -c / det, a / det];
    const [fx, fy] = source.from;
    on.transform(p, r, q, s, source.at[0] - p * fx - q * fy, source.at[1] - r * fx - s * fy);
    // In one piece: what it does not reach of the stroke is to be empty.
    const whole = emptyCanvas(to);
    if (!whole) return;
    whole.setTransform(on.getTransform());
    photo(whole);
    on.setTransform(1, 0, 0, 1, 0, 0);
    on.globalAlpha = brush.strength / 100;
    on.drawImage(whole.canvas, 0, 0);
  } else {
    on.setTransform(1, 0, 0, 1, 0, 0);
    on.globalAlpha = 0.4;
    on.fillStyle = "#a8125a";
    on.fillRect(0, 0, on.canvas.width, on.canvas.height);
  }
  to.setTransform(1, 0, 0, 1, 0, 0);
  to.drawImage(on.canvas, 0, 0);
}

/** An empty canvas as large as another. */
function emptyCanvas(like: Context): Context | null {
  const canvas = document.createElement("canvas");
  canvas.width = like.canvas.width;
  canvas.height = like.canvas.height;
  return canvas.getContext("2d");
}

function enclosed(on: Context, points: readonly Point[]) {
  on.beginPath();
  for (const [x, y] of points) on.lineTo(x, y);
  on.closePath();
  on.fill();
}

/** A brush's stroke, as wide as it was pressed. */
function stroke(on: Context, { points, pressed }: Drawing, { radius, soft }: Brush, k: number) {
  on.fillStyle = on.strokeStyle = "#fff";
  on.lineCap = on.lineJoin = "round";
  const blur = (soft * radius * k) / 3;
  if (blur > 0.5) on.filter = `blur(${blur}px)`;
  const inner = radius * (1 - soft / 2);
  const hard = pressed.every((press) => press > 0.98);
  on.lineWidth = 2 * inner;
  on.beginPath();
  points.forEach(([x, y], n) => {
    const [bx, by] = points[n - 1] ?? [x, y];
    if (!hard) {
      on.lineWidth = 2 * inner * (pressed[n] ?? 1);
      on.beginPath();
    }
    if (n === 0 || !hard) on.moveTo(bx, by);
    on.lineTo(x + (points.length === 1 || !hard ? 0.01 : 0), y);
    if (!hard) on.stroke();
  });
  if (hard) on.stroke();
  on.filter = "none";
}
