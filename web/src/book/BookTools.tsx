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
import { trimmed } from "../ui/format";
import { useIsSmall } from "../ui/small";
import { t, tn } from "../words";
import { BookSize } from "./BookSize";
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
  const [resizing, setResizing] = useState(false);
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
    <div className={css.tools} role="toolbar" aria-label={t("The book")}>
      <Folded when={small} label={t("Book")} size="compact-sm">
        <Button size="compact-sm" variant="filled" onClick={() => setLaying("whole")}>
          {t("Auto layout…")}
        </Button>
        <Menu shadow="md">
          <Menu.Target>
            <Button size="compact-sm" variant="default">
              {tn(step, "Add {n} page", "Add {n} pages")}
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => add("end")}>{t("At the end")}</Menu.Item>
            <Menu.Item onClick={() => add("middle")}>{t("In the middle")}</Menu.Item>
            <Menu.Item disabled={!last} onClick={() => add("end", last)}>
              {t("After the sheet selected")}
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
        <Button size="compact-sm" variant="default" onClick={() => setDressing(true)}>
          {t("Theme…")}
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => setBinding(true)}>
          {t("Binding…")}
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => setResizing(true)}>
          {t("Another size…")}
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          component={Link}
          href={jobAddress(state.id, { edition: editionIn(state) }, "book")}
        >
          {t("Preview book")}
        </Button>
        {inner.length > 0 && (
          <Button size="compact-sm" variant="default" onClick={() => setLaying("some")}>
            {t("Auto layout selection…")}
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
      {resizing && <BookSize state={state} onClose={() => setResizing(false)} />}
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
    <Dialog onClose={onClose} title={t("Theme")} size={760}>
      <Themes value={chosen} onChange={setChosen} />
      <ThemePages theme={chosen} />
      <p className={css.note}>
        {t(
          "Photos stay where they are. Grounds, frames, ornaments, colours and styles of the theme take the place of those of the one before.",
        )}
      </p>
      <Answer>
        <Button variant="default" onClick={onClose}>
          {t("Cancel")}
        </Button>
        <Button
          disabled={!theme}
          onClick={() => {
            if (theme) edit({ op: "dress", theme });
            onClose();
          }}
        >
          {t("Apply to all pages")}
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
    <Dialog onClose={onClose} title={t("Binding")}>
      <Stack gap="sm">
        <Select
          label={t("Paper")}
          allowDeselect={false}
          value={paper.id}
          data={(bindery?.papers ?? [paper]).map((one) => ({
            value: one.id,
            label: t("{name}, {leaf_mm} mm a leaf", { name: one.name, leaf_mm: trimmed(one.leaf_mm, 2) }),
          }))}
          onChange={(id) => {
            const next = bindery?.papers.find((one) => one.id === id);
            if (next) edit({ op: "set_book", paper: next });
          }}
        />
        <Select
          label={t("Binding")}
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
          {t("Pages {name}. {least} to {most} pages, in steps of {multiple}.", {
            name: size.name,
            least: binding.least,
            most: binding.most,
            multiple: binding.multiple,
          })}
          {spine !== undefined && ` ${t("The spine is {spine} mm wide now.", { spine: trimmed(spine, 1) })}`}
          {(binding.swallows_mm ?? 0) > 0 &&
            ` ${t("{hidden} mm of each page is hidden in the binding.", {
              hidden: trimmed(binding.swallows_mm ?? 0, 1),
            })}`}{" "}
          {binding.inside_printed
            ? t("The cover is printed inside too.")
            : t("Nothing is printed inside the cover.")}
        </p>
      </Stack>
    </Dialog>
  );
}
