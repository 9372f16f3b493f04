import { Button, SegmentedControl } from "@mantine/core";
import type { Touch } from "../../../api/client";
import { ColourInput } from "../../../ui/colour/ColourInput";
import { Dial } from "../../../ui/Dial";
import { Tick } from "../../../ui/Tick";
import { t } from "../../../words";
import { Amounts } from "./Amounts";
import css from "./retouch.module.css";
import type { Touches } from "./useTouches";

/** What can be changed of a touch that is selected. */
export function TouchFields({ touch, touches }: { touch: Touch; touches: Touches }) {
  const change = (touch: Touch, part: object, gesture?: string) =>
    touches.change(touch.id, part as Partial<Touch>, gesture);
  return (
    <div className={css.inner}>
      <Dial
        label={t("Strength")}
        unit="%"
        min={0}
        max={100}
        value={touch.strength ?? 100}
        onKeep={(strength, gesture) => change(touch, { strength }, gesture)}
      />
      {touch.kind === "adjust" && (
        <>
          <Amounts
            values={{
              light: touch.light ?? 0,
              warmth: touch.warmth ?? 0,
              saturation: touch.saturation ?? 0,
              sharpness: touch.sharpness ?? 0,
            }}
            edges={touch.edges ?? 0}
            onAmount={(name, value, gesture) => change(touch, { [name]: value }, gesture)}
            onEdges={(edges, gesture) => change(touch, { edges }, gesture)}
          />
          <div className={css.colour}>
            <ColourInput
              bare
              label={t("Tint")}
              placeholder={t("own colour")}
              value={touch.colour ?? ""}
              onChange={(colour) => change(touch, { colour })}
            />
            <Button
              size="compact-xs"
              variant="default"
              disabled={!touch.colour}
              onClick={() => change(touch, { colour: null, flat: 0 })}
            >
              {t("Its own colour")}
            </Button>
          </div>
          {touch.colour && (
            <Dial
              label={t("Flat")}
              unit="%"
              min={0}
              max={100}
              value={Math.round((touch.flat ?? 0) * 100)}
              onKeep={(flat, gesture) => change(touch, { flat: flat / 100 }, gesture)}
            />
          )}
          {(touch.area.kind === "round" || touch.area.kind === "cut") && (
            <Tick
              on={touch.area.outside ?? false}
              onChange={(outside) => change(touch, { area: { ...touch.area, outside } })}
            >
              {t("Invert area")}
            </Tick>
          )}
        </>
      )}
      {touch.kind === "free" && (
        <>
          <Dial
            label={t("Free down to")}
            unit="%"
            min={0}
            max={100}
            value={Math.round((touch.down ?? 0.5) * 100)}
            onKeep={(down, gesture) => change(touch, { down: down / 100 }, gesture)}
          />
          <Dial
            label={t("Follow edges")}
            unit="%"
            min={0}
            max={100}
            value={Math.round((touch.edges ?? 0) * 100)}
            onKeep={(edges, gesture) => change(touch, { edges: edges / 100 }, gesture)}
          />
          <Tick on={touch.backdrop !== false} onChange={(backdrop) => change(touch, { backdrop })}>
            {t("Show photo behind it")}
          </Tick>
        </>
      )}
      {touch.kind === "cover" && (
        <SegmentedControl
          size="xs"
          fullWidth
          aria-label={t("Method")}
          value={touch.how ?? "heal"}
          onChange={(how) => change(touch, { how })}
          data={[
            { value: "heal", label: t("Heal") },
            { value: "clone", label: t("Clone") },
            { value: "fill", label: t("Fill") },
          ]}
        />
      )}
    </div>
  );
}
