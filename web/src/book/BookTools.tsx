import { Button, Menu, Select, Stack } from "@mantine/core";
import { type ReactNode, useState } from "react";
import { Link } from "wouter";
import { useLabs, useThemes } from "../api/queries";
import { editionIn, jobAddress } from "../editing/addresses";
import { useChange } from "../editing/changes";
import { useLayout } from "../editing/layouts";
import type { View } from "../editing/view";
import { Answer } from "../ui/Answer";
import { Dialog } from "../ui/Dialog";
import { Folded } from "../ui/Folded";
import { plural, trimmed } from "../ui/format";
import { useIsSmall } from "../ui/small";
import css from "./book.module.css";
import { LayOut } from "./LayOut";
import { ThemePages, Themes } from "./Themes";

/** What is done with a book as a whole: laid out, made longer, dressed, bound otherwise, looked at. */
export function BookTools({
  state,
  selected,
  children,
}: {
  state: View;
  selected: string[];
  children?: ReactNode;
}) {
  const { edit } = useChange(state);
  const small = useIsSmall();
  const themes = useThemes();
  const [laying, setLaying] = useState<"whole" | "some">();
  const [dressing, setDressing] = useState(false);
  const [binding, setBinding] = useState(false);
  const book = state.job.book;
  if (!book) return null;
  const step = Math.max(book.binding.multiple ?? 2, 2);
  const inner = selected.filter((id) => state.sheets.find((sheet) => sheet.id === id)?.role !== "cover");
  const last = inner.at(-1);
  const add = (where: "end" | "middle", after = "") => {
    const theme = themes.data?.find((one) => one.id === book.theme) ?? null;
    edit({ op: "add_pages", count: step, where, after, theme });
  };
  return (
    <div className={css.tools} role="toolbar" aria-label="The book">
      <Folded when={small} label="Book" size="compact-sm">
        <Button size="compact-sm" variant="filled" onClick={() => setLaying("whole")}>
          Auto layout…
        </Button>
        <Menu shadow="md">
          <Menu.Target>
            <Button size="compact-sm" variant="default">
              Add {plural(step, "page")}
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => add("end")}>At the end</Menu.Item>
            <Menu.Item onClick={() => add("middle")}>In the middle</Menu.Item>
            <Menu.Item disabled={!last} onClick={() => add("end", last)}>
              After the sheet selected
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
        <Button size="compact-sm" variant="default" onClick={() => setDressing(true)}>
          Theme…
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => setBinding(true)}>
          Binding…
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          component={Link}
          href={jobAddress(state.id, { edition: editionIn(state) }, "book")}
        >
          Preview book
        </Button>
        {inner.length > 0 && (
          <Button size="compact-sm" variant="default" onClick={() => setLaying("some")}>
            Auto layout selection…
          </Button>
        )}
      </Folded>
      {children}
      {laying && (
        <LayOut
          state={state}
          sheets={laying === "some" ? inner : undefined}
          onClose={() => setLaying(undefined)}
        />
      )}
      {dressing && <Dressing state={state} onClose={() => setDressing(false)} />}
      {binding && <Bound state={state} onClose={() => setBinding(false)} />}
    </div>
  );
}

function Dressing({ state, onClose }: { state: View; onClose: () => void }) {
  const { edit } = useChange(state);
  const themes = useThemes();
  const [chosen, setChosen] = useState(state.job.book?.theme ?? "");
  const theme = themes.data?.find((one) => one.id === chosen);
  return (
    <Dialog onClose={onClose} title="Theme" size={760}>
      <Themes value={chosen} onChange={setChosen} />
      <ThemePages theme={chosen} />
      <p className={css.note}>
        Photos stay where they are. Grounds, frames, ornaments, colours and styles of the theme take the place
        of those of the one before.
      </p>
      <Answer>
        <Button variant="default" onClick={onClose}>
          Cancel
        </Button>
        <Button
          disabled={!theme}
          onClick={() => {
            if (theme) edit({ op: "dress", theme });
            onClose();
          }}
        >
          Apply to all pages
        </Button>
      </Answer>
    </Dialog>
  );
}

function Bound({ state, onClose }: { state: View; onClose: () => void }) {
  const { edit } = useChange(state);
  const labs = useLabs();
  const book = state.job.book;
  const bindery = labs.data?.find((one) => one.id === state.lab.id)?.bindery;
  const cover = useLayout(state.sheets.find((sheet) => sheet.role === "cover")?.layout);
  if (!book) return null;
  const { binding, paper, size } = book;
  const lines = (cover?.lines ?? []).filter((line) => line.kind === "spine");
  const places = lines.map((line) => line.at_mm).sort((a, b) => a - b);
  const spine = places.length > 1 ? (places.at(-1) ?? 0) - (places[0] ?? 0) : undefined;
  return (
    <Dialog onClose={onClose} title="Binding">
      <Stack gap="sm">
        <Select
          label="Paper"
          allowDeselect={false}
          value={paper.id}
          data={(bindery?.papers ?? [paper]).map((one) => ({
            value: one.id,
            label: `${one.name}, ${trimmed(one.leaf_mm, 2)} mm a leaf`,
          }))}
          onChange={(id) => {
            const next = bindery?.papers.find((one) => one.id === id);
            if (next) edit({ op: "set_book", paper: next });
          }}
        />
        <Select
          label="Binding"
          allowDeselect={false}
          value={binding.id}
          data={(bindery?.bindings ?? [binding])
            .filter((one) => (one.kind === "lay_flat") === (binding.kind === "lay_flat"))
            .map((one) => ({ value: one.id, label: one.name }))}
          onChange={(id) => {
            const next = bindery?.bindings.find((one) => one.id === id);
            if (next) edit({ op: "set_book", binding: next });
          }}
        />
        <p className={`${css.note} num`}>
          Pages {size.name}. {binding.least} to {binding.most} pages, in steps of {binding.multiple}.
          {spine !== undefined && ` The spine is ${trimmed(spine, 1)} mm wide now.`}
          {(binding.swallows_mm ?? 0) > 0 &&
            ` ${trimmed(binding.swallows_mm ?? 0, 1)} mm of each page is hidden in the binding.`}{" "}
          {binding.inside_printed
            ? "The cover is printed inside too."
            : "Nothing is printed inside the cover."}
        </p>
      </Stack>
    </Dialog>
  );
}
