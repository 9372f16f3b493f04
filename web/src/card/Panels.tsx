import { Button, Menu } from "@mantine/core";
import { useState } from "react";
import { useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { t } from "../words";
import { FoldPreview } from "./FoldPreview";
import { panelsOn, useFolded } from "./folded";

/** A folded sheet's panels, each to be worked on upright and close; and the card folded in space. */
export function Panels({ state }: { state: View }) {
  const folded = useFolded(state);
  const here = useBench((bench) => bench.panelOf);
  const set = useBench((bench) => bench.set);
  const [folding, setFolding] = useState(false);
  const { edit } = useChange(state);
  if (!folded) return null;
  const [wide, high] = folded.folding.closed_mm;
  const upright = high >= wide;
  const panels = panelsOn(folded, state.sheet.id);
  const now = panels.find((panel) => panel.name === here?.name && panel.side === here.side);
  return (
    <>
      {panels.length > 0 && (
        <Menu position="top" shadow="md">
          <Menu.Target>
            <Button variant="default" size="compact-sm">
              {now ? t("Panel: {name}", { name: now.name }) : t("Panels")}
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {panels.map((panel) => (
              <Menu.Item
                key={panel.name}
                aria-current={panel === now || undefined}
                onClick={() => set({ panelOf: panel, selected: undefined })}
              >
                {panel.name}
                {panel.turned ? t(", upside down on the sheet") : ""}
              </Menu.Item>
            ))}
            <Menu.Divider />
            <Menu.Item onClick={() => set({ panelOf: undefined })}>{t("The whole sheet")}</Menu.Item>
            <Menu.Item
              onClick={() => {
                set({ panelOf: undefined, selected: undefined });
                edit({ op: "turn_card" });
              }}
            >
              {upright ? t("Turn to landscape") : t("Turn to portrait")}
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      )}
      <Button variant="default" size="compact-sm" onClick={() => setFolding(true)}>
        {t("Preview fold")}
      </Button>
      {folding && <FoldPreview state={state} folded={folded} onClose={() => setFolding(false)} />}
    </>
  );
}
