import { Button } from "@mantine/core";
import type { Opening, Row } from "../../api/client";
import { useChange } from "../../editing/changes";
import { openingOf, type View } from "../../editing/view";
import { t } from "../../words";

const LIMIT = 1.005; // below it nobody sees a stretch

/** Gives an opening the outline that it has on the page: its photo is cropped to that, and no longer stretched to it. */
export function ResetProportions({ state, row }: { state: View; row: Row }) {
  const { edit } = useChange(state);
  const fields = resetFields(openingOf(state, row.opening));
  if (!fields || row.distortion <= LIMIT) return null;
  return (
    <Button
      size="compact-xs"
      variant="default"
      onClick={() => edit({ op: "set_fields", layers: [row.opening], fields, expect: {} })}
    >
      {t("Reset proportions")}
    </Button>
  );
}

/** The fields that end a stretch; nothing for a drawn outline on four corners, which has no width of its own to be set. */
function resetFields(opening: Opening | undefined): Record<string, unknown> | undefined {
  if (!opening) return undefined;
  const { surface, outline } = opening;
  const plain = outline.kind !== "path";
  if (surface.kind === "corners" && plain) {
    const [a, b, c, d] = surface.points;
    if (!a || !b || !c || !d) return undefined;
    const far = (p: [number, number], q: [number, number]) => Math.hypot(p[0] - q[0], p[1] - q[1]);
    const size = (one: number, other: number) => Math.round(500 * (one + other)) / 1000;
    return {
      "outline.width_mm": size(far(a, b), far(d, c)),
      "outline.height_mm": size(far(a, d), far(b, c)),
    };
  }
  if (surface.kind !== "flat") return undefined;
  const reset = { "surface.stretch_x": 1, "surface.stretch_y": 1, "surface.skew_deg": 0 };
  if (!plain) return reset;
  return {
    ...reset,
    "outline.width_mm": outline.width_mm * (surface.stretch_x ?? 1),
    "outline.height_mm": outline.height_mm * (surface.stretch_y ?? 1),
  };
}
