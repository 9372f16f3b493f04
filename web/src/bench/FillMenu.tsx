import { Button, Menu, Switch } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { useEffect } from "react";
import { useChange } from "../editing/changes";
import { jobStore } from "../editing/jobs";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { useIsNarrow } from "../ui/small";
import { usePicked } from "../ui/usePicked";
import { t, tn } from "../words";
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
          ? t("Refill…")
          : narrow
            ? t("Fill {empty}", { empty })
            : empty === 1
              ? some
                ? t("Fill the empty opening")
                : t("Fill the opening")
              : some
                ? t("Fill the {empty} empty openings", { empty })
                : t("Fill all {empty} openings", { empty })}
      </Button>
      <Menu position="bottom-end" closeOnItemClick>
        <Menu.Target>
          <Button
            variant={empty > 0 ? "light" : "default"}
            px={6}
            aria-label={t("Other ways to fill")}
            disabled={none}
          >
            <IconChevronDown size={14} />
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => fill("best", false)}>
            {filled ? t("Refill all except manual fits: best fit") : t("All: best fit")}
          </Menu.Item>
          <Menu.Item onClick={() => fill("order", false)}>
            {filled ? t("Refill all except manual fits: capture order") : t("All: capture order")}
          </Menu.Item>
          {state.sheets.some((sheet) => sheet.fields?.month) && (
            <Menu.Item onClick={() => fill("month", false)}>
              {filled ? t("Refill all except manual fits: by month taken") : t("All: by month taken")}
            </Menu.Item>
          )}
          {filled > 0 && (
            <Menu.Item onClick={() => fill("best", false, true)}>
              {t("Refill all {openings}, including manual fits", { openings })}
            </Menu.Item>
          )}
          <Menu.Item disabled={!empty} onClick={() => fill("best", true)}>
            {t("Empty openings only")}
          </Menu.Item>
          <Menu.Divider />
          <Menu.Item closeMenuOnClick={false} component="div">
            <Switch
              size="xs"
              label={t("Always preview before filling")}
              checked={firstLook}
              onChange={(event) => set({ firstLook: event.currentTarget.checked })}
            />
          </Menu.Item>
          {pins > 0 && (
            <Menu.Label>
              {tn(
                pins,
                "{n} pinned opening of this sheet will stay as it is",
                "{n} pinned openings of this sheet will stay as they are",
              )}
            </Menu.Label>
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
      {t("Preview. Nothing is changed yet.")}
      <Button
        size="compact-xs"
        variant="filled"
        onClick={() => {
          edit(preview.edit);
          set({ preview: undefined });
        }}
      >
        {t("Apply (Enter)")}
      </Button>
      <Button size="compact-xs" variant="default" onClick={() => set({ preview: undefined })}>
        {t("Cancel (Esc)")}
      </Button>
    </div>
  );
}
