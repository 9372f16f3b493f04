import { Button, Group, Select, Stack } from "@mantine/core";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import { useLabs, useThemes } from "../api/queries";
import { ChoosePhotos } from "../bench/pile/ChoosePhotos";
import { bringIn } from "../bench/pile/importing";
import { LocaleField } from "../lettering/Places";
import { asKept, NOBODY, type Who, WhoFor } from "../shelf/WhoFor";
import { Answer } from "../ui/Answer";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { trimmed } from "../ui/format";
import { NumberField } from "../ui/NumberField";
import { t, tn } from "../words";
import css from "./book.module.css";
import { ThemePages, Themes } from "./Themes";

/** Begins a book from nothing: what the lab binds on one side, themes with their pages on the other. */
export function NewBook({ onClose }: { onClose: () => void }) {
  const labs = useLabs();
  const themes = useThemes();
  const queries = useQueryClient();
  const [, go] = useLocation();
  const [who, setWho] = useState<Who>(NOBODY);
  const [said, setSaid] = useState<Record<string, string>>({});
  const [pages, setPages] = useState(40);
  const [theme, setTheme] = useState("");
  const [locale, setLocale] = useState("en_GB");
  const [photos, setPhotos] = useState<File[]>([]);
  const [busy, setBusy] = useState(false);
  const binding = (labs.data ?? []).filter((lab) => lab.bindery);
  const lab = binding.find((one) => one.id === said.lab) ?? binding[0];
  const bindery = lab?.bindery;
  const of = <T extends { id: string }>(all: readonly T[] | undefined, id: string | undefined) =>
    all?.find((one) => one.id === id) ?? all?.[0];
  const size = of(bindery?.sizes, said.size);
  const bound = of(bindery?.bindings, said.binding);
  const paper = of(bindery?.papers, said.paper);
  const look = theme || themes.data?.[0]?.id || "";
  const choose = (name: string) => (value: string | null) => value && setSaid({ ...said, [name]: value });
  const start = async () => {
    if (!lab || !size || !bound || !paper) return;
    setBusy(true);
    try {
      const body = {
        ...asKept(who),
        lab: lab.id,
        locale,
        book: {
          size: size.id,
          paper: paper.id,
          binding: bound.id,
          theme: look,
          pages,
          title: who.name.trim(),
        },
      };
      const { id } = await answer<{ id: string }>(api.POST("/api/jobs", { body }));
      queries.invalidateQueries({ queryKey: ["jobs"] });
      bringIn(id, photos);
      go(`/jobs/${id}/plan`);
    } catch (error) {
      complain(error);
      setBusy(false);
    }
  };
  const options = (all: readonly { id: string; name: string }[] | undefined) =>
    (all ?? []).map((one) => ({ value: one.id, label: one.name }));
  return (
    <Dialog onClose={onClose} title={t("New book")} size={1080}>
      <form
        className={css.begin}
        onSubmit={(event) => {
          event.preventDefault();
          start();
        }}
      >
        <Stack gap="xs">
          <WhoFor
            who={who}
            onChange={setWho}
            label={t("Title")}
            description={t("On the cover, the spine and the first page")}
          />
          <Select
            size="xs"
            label={t("Lab sheet")}
            allowDeselect={false}
            value={lab?.id ?? ""}
            onChange={(value) => value && setSaid({ lab: value })}
            data={binding.map((one) => ({ value: one.id, label: `${one.name}, ${one.lab}` }))}
          />
          <Group grow>
            <Select
              size="xs"
              label={t("Page size")}
              allowDeselect={false}
              value={size?.id ?? ""}
              onChange={choose("size")}
              data={options(bindery?.sizes)}
            />
            <Select
              size="xs"
              label={t("Paper")}
              allowDeselect={false}
              value={paper?.id ?? ""}
              onChange={choose("paper")}
              data={(bindery?.papers ?? []).map((one) => ({
                value: one.id,
                label: t("{name}, {leaf_mm} mm a leaf", { name: one.name, leaf_mm: trimmed(one.leaf_mm, 2) }),
              }))}
            />
          </Group>
          <Group grow align="end">
            <Select
              size="xs"
              label={t("Binding")}
              allowDeselect={false}
              value={bound?.id ?? ""}
              onChange={choose("binding")}
              data={options(bindery?.bindings)}
            />
            <NumberField
              label={t("Pages")}
              min={bound?.least ?? 1}
              max={bound?.most ?? 2000}
              step={bound?.multiple ?? 2}
              value={Math.max(pages, bound?.least ?? 1)}
              onKeep={setPages}
            />
          </Group>
          {bound && (
            <p className={css.note}>
              {t("{least} to {most} pages, in steps of {multiple}", {
                least: bound.least,
                most: bound.most,
                multiple: bound.multiple,
              })}
              {(bound.swallows_mm ?? 0) > 0 &&
                t("; {hidden} mm of each page is hidden in the binding", {
                  hidden: trimmed(bound.swallows_mm ?? 0, 1),
                })}
              .{" "}
              {bound.inside_printed
                ? t("The cover is printed inside too.")
                : t("Nothing is printed inside the cover.")}
            </p>
          )}
          <Group gap="xs">
            <ChoosePhotos
              size="xs"
              label={t("Choose photos…")}
              onFiles={(files) => setPhotos([...photos, ...files])}
            />
            <ChoosePhotos
              size="xs"
              isFolder
              label={t("A whole folder…")}
              onFiles={(files) => setPhotos([...photos, ...files])}
            />
            <span className="num">
              {photos.length ? tn(photos.length, "{n} photo chosen", "{n} photos chosen") : ""}
            </span>
          </Group>
          <LocaleField label={t("Date language")} locale={locale} onLocale={setLocale} />
          <ThemePages theme={look} />
          <Answer>
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button type="submit" loading={busy} disabled={!who.name.trim() || !bindery || !look}>
              {t("Create book")}
            </Button>
          </Answer>
        </Stack>
        <Themes value={look} onChange={setTheme} />
      </form>
    </Dialog>
  );
}
