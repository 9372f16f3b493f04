/** Emptying openings. One of several that a photo runs on through is emptied alone; of the others it is asked. */
import { Button, Group } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useCallback } from "react";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { t, tn } from "../words";

/** The other openings that the photos of some run on into. */
export function othersOf(view: Pick<View, "filling">, openings: string[]): string[] {
  const rules = new Set<string>();
  for (const span of Object.values(view.filling.spans ?? {}))
    if (span.openings.some((opening) => openings.includes(opening)))
      for (const opening of span.openings) if (!openings.includes(opening)) rules.add(opening);
  return [...rules];
}

export function useClear(view: View) {
  const { edit } = useChange(view);
  return useCallback(
    (openings: string[]) => {
      const others = othersOf(view, openings);
      const where = { sheet: view.sheet.id, edition: view.own.id };
      edit({ op: "clear", openings, ...where });
      if (!others.length) return;
      const id = `clear-${openings.join()}`;
      const numbers = others.flatMap(
        (opening) => view.rows.find((row) => row.opening === opening)?.number ?? [],
      );
      notifications.show({
        id,
        autoClose: 12000,
        withCloseButton: false,
        message: (
          <>
            {tn(
              numbers.length,
              "The photo also shows in opening {numbers}.",
              "The photo also shows in openings {numbers}.",
              { numbers: numbers.join(", ") },
            )}
            <Group gap={6} mt={6}>
              <Button
                size="compact-xs"
                onClick={() => {
                  edit({ op: "clear", openings: others, ...where });
                  notifications.hide(id);
                }}
              >
                {others.length === 1 ? t("Clear it too") : t("Clear them too")}
              </Button>
              <Button size="compact-xs" variant="default" onClick={() => notifications.hide(id)}>
                {t("Keep photo")}
              </Button>
            </Group>
          </>
        ),
      });
    },
    [view, edit],
  );
}
