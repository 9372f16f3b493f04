import { Button, Menu, Switch } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { useEffect } from "react";
import { useChange } from "../editing/changes";
import { jobStore } from "../editing/jobs";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { plural } from "../ui/format";
import { useIsNarrow } from "../ui/small";
import { usePicked } from "../ui/usePicked";
import css from "./bench.module.css";
import { useFill } from "./useFill";
import { useRunning } from "./useRunning";

/** Fills openings: the one button does what is most likely wanted, the menu asks how. Pinned openings stay. */
export function FillMenu({ state }: { state: View }) {
  const { fill, openings, filled, some } = useFill(state);
  const { firstLook, set } = usePicked(useBench, "firstLook", "set");
  const empty = openings - filled;
  const none = !state.photos.length || openings === 0;
  const running = useRunning(state.id, "fill");
  const narrow = useIsNarrow(760);
  const pins = state.filling.pins?.length ?? 0;
  return (
    <Button.Group>
      <Button
        variant={empty > 0 ? "light" : "default"}
        disabled={none}
        loading={jobStore(state.id).under("fill") || !!running}
        onClick={() => fill("best", some)}
      >
        {!empty
          ? "Refill…"
          : narrow
            ? `Fill ${empty}`
            : empty === 1
              ? `Fill the ${some ? "empty opening" : "opening"}`
              : `Fill ${some ? `the ${empty} empty openings` : `all ${empty} openings`}`}
      </Button>
      <Menu position="bottom-end" closeOnItemClick>
        <Menu.Target>
          <Button
            variant={empty > 0 ? "light" : "default"}
            px={6}
            aria-label="Other ways to fill"
            disabled={none}
          >
            <IconChevronDown size={14} />
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => fill("best", false)}>
            {filled ? "Refill all except manual fits: best fit" : "All: best fit"}
          </Menu.Item>
          <Menu.Item onClick={() => fill("order", false)}>
            {filled ? "Refill all except manual fits: capture order" : "All: capture order"}
          </Menu.Item>
          {state.sheets.some((sheet) => sheet.fields?.month) && (
            <Menu.Item onClick={() => fill("month", false)}>
              {filled ? "Refill all except manual fits: by month taken" : "All: by month taken"}
            </Menu.Item>
          )}
          {filled > 0 && (
            <Menu.Item onClick={() => fill("best", false, true)}>
              {`Refill all ${openings}, including manual fits`}
            </Menu.Item>
          )}
          <Menu.Item disabled={!empty} onClick={() => fill("best", true)}>
            Empty openings only
          </Menu.Item>
          <Menu.Divider />
          <Menu.Item closeMenuOnClick={false} component="div">
            <Switch
              size="xs"
              label="Always preview before filling"
              checked={firstLook}
              onChange={(event) => set({ firstLook: event.currentTarget.checked })}
            />
          </Menu.Item>
          {pins > 0 && (
            <Menu.Label>{`${plural(pins, "pinned opening")} of this sheet will stay as they are`}</Menu.Label>
          )}
        </Menu.Dropdown>
      </Menu>
    </Button.Group>
  );
}

/** A result that is previewed before it is applied. */
export function PreviewBar({ state }: { state: View }) {
  const { preview, set } = usePicked(useBench, "preview", "set");
  const { edit } = useChange(state);
  const picture = preview?.picture;
  useEffect(() => () => (picture ? URL.revokeObjectURL(picture) : undefined), [picture]);
  if (!preview) return null;
  return (
    <div className={css.preview} role="status">
      Preview. Nothing is changed yet.
      <Button
        size="compact-xs"
        variant="filled"
        onClick={() => {
          edit(preview.edit);
          set({ preview: undefined });
        }}
      >
        Apply (Enter)
      </Button>
      <Button size="compact-xs" variant="default" onClick={() => set({ preview: undefined })}>
        Cancel (Esc)
      </Button>
    </div>
  );
}
