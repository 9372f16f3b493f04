import { ActionIcon, Button, Checkbox, TextInput, Tooltip } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import IconChevronUp from "@tabler/icons-react/icons/IconChevronUp";
import { type PileShow, type Sorting, useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { Choice } from "../../ui/Choice";
import { Folded } from "../../ui/Folded";
import { plural } from "../../ui/format";
import { useIsSmall } from "../../ui/small";
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
      <strong>Pile</strong>
      <span className="num">
        {plural(state.photos.length, "photo")}
        {unused !== undefined && `, ${unused} unused`}
      </span>
      {more > 0 && (
        <Button size="compact-sm" variant="subtle" onClick={() => addSheets(more)}>
          Add {more === 1 ? "a sheet" : `${more} sheets`} for {unused === 1 ? "it" : "them"}
        </Button>
      )}
      <span className={css.hint}>Click to pick up, Shift for a range, Ctrl to add</span>
      <Folded when={useIsSmall()} label="Photos" size="compact-sm">
        <TextInput
          size="xs"
          w={110}
          aria-label="Search the pile by name"
          placeholder="Search"
          value={search}
          onChange={(event) => onSearch(event.currentTarget.value)}
        />
        <Choice
          bare
          label="Show"
          value={show}
          onChange={(value) => settle({ show: value as PileShow })}
          data={[
            { value: "all", label: "all" },
            { value: "unused", label: "only unused" },
            { value: "stars", label: "with stars" },
            { value: "aside", label: "put aside" },
          ]}
        />
        <Choice
          bare
          label="Sorted by"
          value={sorting}
          onChange={(value) => settle({ sorting: value as Sorting })}
          data={[
            { value: "taken", label: "by time taken" },
            { value: "name", label: "by name" },
            { value: "orientation", label: "by orientation" },
            { value: "stars", label: "by stars" },
            { value: "used", label: "by use" },
          ]}
        />
        <Checkbox
          size="xs"
          label="names"
          checked={names}
          onChange={(event) => settle({ names: event.currentTarget.checked })}
        />
        {state.unseen > 0 && (
          <span
            className={css.hint}
            role="status"
          >{`Looking for faces in ${plural(state.unseen, "photo")}…`}</span>
        )}
        <Incoming state={state} />
        <ChoosePhotos ml="auto" label="Bring photos in" onFiles={bring} />
        <ChoosePhotos isFolder label="A whole folder" onFiles={bring} />
      </Folded>
      <Tooltip label={isOpen ? "Photos in a strip (E)" : "Photos in a grid over the stage (E)"}>
        <ActionIcon
          variant="default"
          size={30}
          aria-label="Grid of photos"
          aria-expanded={isOpen}
          onClick={onOpen}
        >
          {isOpen ? <IconChevronDown size={16} /> : <IconChevronUp size={16} />}
        </ActionIcon>
      </Tooltip>
    </div>
  );
}
