import side from "../bench/side.module.css";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { ColourField } from "../ui/colour/ColourField";
import { t } from "../words";
import { colourUses } from "./colourUses";
import type { Layer } from "./layers";

/** All colours of a group, or of several layers: one that is changed changes wherever it is used in them. */
export function RecolourPart({ state, chosen }: { state: View; chosen: readonly Layer[] }) {
  const { edit } = useChange(state);
  const uses = colourUses(chosen);
  if (!uses.length) return null;
  const change = (where: (typeof uses)[number]["where"], colour: string) => {
    const gesture = `recolour-${crypto.randomUUID()}`;
    for (const [field, layers] of Object.entries(where))
      edit({ op: "set_fields", layers, fields: { [field]: colour }, expect: {} }, { gesture });
  };
  return (
    <div className={side.group}>
      {uses.map(({ colour, where }, n) => (
        <ColourField
          // By its place: a colour that is picked stays under the hand while it changes.
          // biome-ignore lint/suspicious/noArrayIndexKey: colours come and go by being changed here
          key={n}
          state={state}
          bare={n > 0}
          label={n ? t("Colour {number}", { number: n + 1 }) : t("Colours")}
          value={colour}
          onChange={(fresh) => change(where, fresh)}
        />
      ))}
    </div>
  );
}
