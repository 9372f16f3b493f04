import { ActionIcon, Button, Checkbox, TextInput, Tooltip } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import IconChevronUp from "@tabler/icons-react/icons/IconChevronUp";
import { type PileShow, type Sorting, useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { Choice } from "../../ui/Choice";
import { Folded } from "../../ui/Folded";
import { useIsSmall } from "../../ui/small";
import { t, tn } from "../../words";
import { sheetsFor, useMoreSheets } from "../moreSheets";
import { ChoosePhotos } from "./ChoosePhotos";
import { Incoming } from "./Incoming";
import { useImport } from "./importing";
import css from "./pile.module.css";

/** What is in the pile, how it is shown, and what brings photos in. */
export function PileBar({
  state,
  unused,
  search,
  onSearch,
  isOpen,
  onOpen,
}: {
  state: View;
  /** How many photos lie on no sheet; undefined until all sheets are here. */
  unused?: number;
  search: string;
  onSearch: (words: string) => void;
  isOpen: boolean;
  onOpen: () => void;
}) {
  const { show, sorting, names } = useBench((bench) => bench.pile);
  const set = useBench((bench) => bench.set);
  const bring = useImport(state.id);
  const more = sheetsFor(state, unused ?? 0);
  const addSheets = useMoreSheets(state);
  const settle = (change: Partial<{ show: PileShow; sorting: Sorting; names: boolean }>) =>
    set({ pile: { show, sorting, names, ...change } });
  return (
    <div className={css.bar}>
      <strong>{t("Pile")}</strong>
      <span className="num">
        {unused === undefined
          ? tn(state.photos.length, "{n} photo", "{n} photos")
          : tn(state.photos.length, "{n} photo, {unused} unused", "{n} photos, {unused} unused", { unused })}
      </span>
      {more > 0 && (
        <Button size="compact-sm" variant="subtle" onClick={() => addSheets(more)}>
          {unused === 1
            ? t("Add a sheet for it")
            : tn(more, "Add a sheet for them", "Add {n} sheets for them")}
        </Button>
      )}
      <span className={css.hint}>{t("Click to pick up, Shift for a range, Ctrl to add")}</span>
      <Folded when={useIsSmall()} label={t("Photos")} size="compact-sm">
        <TextInput
          size="xs"
          w={110}
          aria-label={t("Search the pile by name")}
          placeholder={t("Search")}
          value={search}
          onChange={(event) => onSearch(event.currentTarget.value)}
        />
        <Choice
          bare
          label={t("Show")}
          value={show}
          onChange={(value) => settle({ show: value as PileShow })}
          data={[
            { value: "all", label: t("all") },
            { value: "unused", label: t("only unused") },
            { value: "stars", label: t("with stars") },
            { value: "aside", label: t("put aside") },
          ]}
        />
        <Choice
          bare
          label={t("Sorted by")}
          value={sorting}
          onChange={(value) => settle({ sorting: value as Sorting })}
          data={[
            { value: "taken", label: t("by time taken") },
            { value: "name", label: t("by name") },
            { value: "orientation", label: t("by orientation") },
            { value: "stars", label: t("by stars") },
            { value: "used", label: t("by use") },
          ]}
        />
        <Checkbox
          size="xs"
          label={t("names")}
          checked={names}
          onChange={(event) => settle({ names: event.currentTarget.checked })}
        />
        {state.unseen > 0 && (
          <span className={css.hint} role="status">
            {tn(state.unseen, "Looking for faces in {n} photo…", "Looking for faces in {n} photos…")}
          </span>
        )}
        <Incoming state={state} />
        <ChoosePhotos ml="auto" label={t("Bring photos in")} onFiles={bring} />
        <ChoosePhotos isFolder label={t("A whole folder")} onFiles={bring} />
      </Folded>
      <Tooltip label={isOpen ? t("Photos in a strip (E)") : t("Photos in a grid over the stage (E)")}>
        <ActionIcon
          variant="default"
          size={30}
          aria-label={t("Grid of photos")}
          aria-expanded={isOpen}
          onClick={onOpen}
        >
          {isOpen ? <IconChevronDown size={16} /> : <IconChevronUp size={16} />}
        </ActionIcon>
      </Tooltip>
    </div>
  );
}
