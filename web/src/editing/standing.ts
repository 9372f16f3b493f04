/** How a photo is mended where it lies: its steps of tone, what its camera is turned back by; and its picture then. */
import { type Photo, proxy, type Step, type Upright } from "../api/client";
import type { View } from "./view";

export const LEVEL: Upright = { on: true, pitch_deg: 0, yaw_deg: 0, roll_deg: 0, bend: 0 };

const changes = (upright: Upright | null | undefined) =>
  !!upright &&
  upright.on !== false &&
  !!(upright.pitch_deg || upright.yaw_deg || upright.roll_deg || upright.bend);

/** How what an opening shows stands: by its own recipe, or else its photo's. */
export const standing = (view: View, photo: Photo, opening: string): Upright =>
  view.filling.tones?.[opening]?.upright ?? view.own.photo_tones?.[photo.id]?.upright ?? LEVEL;

/** The picture of a photo as an opening shows it: as it came, unless its places or its lines are mended. */
export function pictureOf(view: View, photo: Photo, opening: string): string {
  const everywhere = view.own.photo_tones?.[photo.id]?.retouching ?? "";
  const touchCount = view.filling.tones?.[opening]?.retouching?.touches?.length;
  if (!changes(standing(view, photo, opening)) && !everywhere && !touchCount) return proxy(photo);
  return mendedPicture(view, photo, opening, stepsOf(view, photo, opening));
}

/** A photo mended as an opening shows it, with steps of tone of its own, and as large as asked. */
export function mendedPicture(
  view: View,
  photo: Photo,
  opening: string,
  steps: readonly Step[],
  longPx?: number,
): string {
  const upright = standing(view, photo, opening);
  const touchCount = view.filling.tones?.[opening]?.retouching?.touches?.length;
  const query = new URLSearchParams({
    everywhere: view.own.photo_tones?.[photo.id]?.retouching ?? "",
    filling: touchCount ? (view.own.fillings[view.sheet.id] ?? "") : "",
    opening: touchCount ? opening : "",
    steps: steps.length ? JSON.stringify(steps) : "",
    upright: changes(upright) ? JSON.stringify(upright) : "",
    ...(longPx ? { long_px: String(longPx) } : {}),
  });
  return `/api/photos/${photo.id}/mended/picture?${query}`;
}

/** The steps in effect: a photo's, or an opening's, which begin as its photo's; the job's enhancing where there are none. */
export function stepsOf(view: View, photo: Photo, opening?: string): Step[] {
  const own = opening === undefined ? undefined : view.filling.tones?.[opening]?.steps;
  const steps = own ?? view.own.photo_tones?.[photo.id]?.steps;
  if (steps) return steps;
  return view.job.enhance && !photo.already_worked ? [{ kind: "enhance", on: true } as Step] : [];
}
