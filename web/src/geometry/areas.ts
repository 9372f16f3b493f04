/** Keep areas: what of a photo must stay visible, in fractions of its width and height. */
import type { KeepArea } from "../api/client";
import { t } from "../words";
import type { Point } from "./placing";

export const KEEP_NAMES = {
  face: t("a face"),
  subject: t("what seems to be the subject"),
  hand: t("marked by hand"),
};

/** Keep areas of a photo: those marked by hand, or else those found. */
export const keepAreas = (photo: {
  marked?: KeepArea[] | null;
  found?: { keep?: KeepArea[] } | null;
}): KeepArea[] => photo.marked ?? photo.found?.keep ?? [];

/** Points along the ellipse of a keep area, photo px. */
export function ellipseOf(area: KeepArea, photo: { width: number; height: number }, steps = 40): Point[] {
  return Array.from({ length: steps }, (_, index) => {
    const angle = (2 * Math.PI * index) / steps;
    return [
      (area.left + area.width * (0.5 + Math.cos(angle) / 2)) * photo.width,
      (area.top + area.height * (0.5 + Math.sin(angle) / 2)) * photo.height,
    ];
  });
}
