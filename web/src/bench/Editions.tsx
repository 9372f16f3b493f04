import { Button, Menu, TextInput } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api, type VariantSheets } from "../api/client";
import { part, want } from "../api/parts";
import { useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { ListDialog } from "../lists/ListDialog";
import { Dialog } from "../ui/Dialog";
import { NumberField } from "../ui/NumberField";
import { t, tn } from "../words";
import css from "./bench.module.css";
import { Compare } from "./Compare";

/** All editions of a job, once they are here. */
export function useEditions(view: Pick<View, "job">) {
  const [, again] = useState(0);
  const { editions } = view.job;
  useEffect(() => {
    Promise.all(editions.map((name) => want("editions", name))).then(
      () => again((n) => n + 1),
      () => {},
    );
  }, [editions]);
  return editions.flatMap((name) => part("editions", name) ?? []);
}

/** Which filling of the sheets is worked on; another one for the next customer. */
export function Editions({ state }: { state: View }) {
  const { edit } = useChange(state);
  const set = useBench((bench) => bench.set);
  const editions = useEditions(state);
  const [naming, setNaming] = useState<"new" | "this">();
  const [name, setName] = useState("");
  const [setting, setSetting] = useState<"set" | "copies">();
  const [listing, setListing] = useState(false);
  const [comparing, setComparing] = useState(false);
  const [opened, setOpened] = useState(false);
  const variants = useQuery({
    queryKey: ["variants", state.id],
    queryFn: ({ signal }) =>
      answer<VariantSheets[]>(
        api.GET("/api/jobs/{job}/variants", { signal, params: { path: { job: state.id } } }),
      ),
    enabled: opened,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [copies, setCopies] = useState(1);
  const unused = state.photos.filter((photo) => !photo.aside && !photo.sample);
  const only = state.job.editions.length === 1;
  const turnTo = (id: string) => set({ edition: id, selected: undefined, draft: undefined });
  const keep = () => {
    const typedName = name.trim();
    if (!typedName) return;
    if (naming === "this") edit({ op: "rename_edition", edition: state.own.id, name: typedName });
    else {
      const taken = new Set(editions.map((entry) => entry.id));
      const plain =
        typedName
          .toLowerCase()
          .replace(/[^a-z0-9]+/g, "-")
          .replace(/^-+|-+$/g, "")
          .slice(0, 40) || "edition";
      let id = plain;
      for (let n = 2; taken.has(id); n++) id = `${plain}-${n}`;
      edit({ op: "add_edition", id, name: typedName, like: state.own.id }, { onStored: () => turnTo(id) });
    }
    setNaming(undefined);
  };
  return (
    <>
      <Menu position="bottom-start" onOpen={() => setOpened(true)}>
        <Menu.Target>
          <button type="button" className={css.edition} title={t("Editions of these pages")}>
            {only ? t("Add edition") : state.own.name} <IconChevronDown size={11} />
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {!only &&
            editions.map((entry) => (
              <Menu.Item
                key={entry.id}
                aria-current={entry.id === state.own.id || undefined}
                onClick={() => turnTo(entry.id)}
              >
                {entry.id === state.own.id ? <strong>{entry.name}</strong> : entry.name}
              </Menu.Item>
            ))}
          {!only && <Menu.Divider />}
          <Menu.Item
            onClick={() => {
              setName("");
              setNaming("new");
            }}
          >
            {t("Duplicate edition…")}
          </Menu.Item>
          <Menu.Item
            onClick={() => {
              setName(state.own.name);
              setNaming("this");
            }}
          >
            {t("Rename edition…")}
          </Menu.Item>
          <Menu.Item
            onClick={() => {
              setCopies(state.own.copies ?? 1);
              setSetting("copies");
            }}
          >
            {t("How many to print: {copies}…", { copies: state.own.copies ?? 1 })}
          </Menu.Item>
          <Menu.Item onClick={() => setListing(true)}>{t("From a list of customers…")}</Menu.Item>
          {unused.length > 1 && (
            <Menu.Item
              onClick={() => {
                setCopies(1);
                setSetting("set");
              }}
            >
              {t("One card per photo…")}
            </Menu.Item>
          )}
          {variants.data && variants.data.length > 1 && (
            <>
              <Menu.Label>{t("Variant of the template")}</Menu.Label>
              {variants.data.map(({ template, name: label, sheets }) => {
                const here = template === (state.own.variant || state.job.template);
                return (
                  <Menu.Item
                    key={template}
                    aria-current={here || undefined}
                    disabled={here}
                    onClick={() => {
                      edit({ op: "choose_variant", template, sheets });
                      set({ sheet: "", selected: undefined });
                    }}
                  >
                    {here ? <strong>{label}</strong> : label}
                  </Menu.Item>
                );
              })}
              <Menu.Divider />
            </>
          )}
          {!only && <Menu.Item onClick={() => setComparing(true)}>{t("Compare with another…")}</Menu.Item>}
          {!only && (
            <Menu.Item
              onClick={() => {
                const next = editions.find((entry) => entry.id !== state.own.id);
                const gone = state.own.id;
                if (!next) return;
                turnTo(next.id);
                edit({ op: "remove_edition", edition: gone });
              }}
            >
              {t("Delete edition")}
            </Menu.Item>
          )}
        </Menu.Dropdown>
      </Menu>
      {comparing && <Compare state={state} editions={editions} onClose={() => setComparing(false)} />}
      {listing && <ListDialog state={state} onClose={() => setListing(false)} />}
      {setting && (
        <Dialog
          onClose={() => setSetting(undefined)}
          title={setting === "set" ? t("One card per photo") : t("How many to print")}
          centered
        >
          {setting === "set" && (
            <p className={css.note}>
              {t(
                "Makes a card like this one for each of the {unused} photos in the pile; each photo comes into the first opening, upright or across as the photo is. This card is the first of them.",
                { unused: unused.length },
              )}
            </p>
          )}
          <NumberField
            label={setting === "set" ? t("Copies of each") : t("Copies of {name}", { name: state.own.name })}
            min={1}
            max={100000}
            value={copies}
            onKeep={setCopies}
          />
          <Button
            mt={12}
            onClick={() => {
              if (setting === "set")
                edit({
                  op: "make_set",
                  edition: state.own.id,
                  photos: unused.map((photo) => photo.id),
                  copies,
                  variants: (variants.data ?? []).map(({ template, sheets }) => ({ template, sheets })),
                });
              else edit({ op: "set_copies", edition: state.own.id, copies });
              setSetting(undefined);
            }}
          >
            {setting === "set" ? tn(unused.length, "Make {n} edition", "Make {n} editions") : t("Save")}
          </Button>
        </Dialog>
      )}
      {naming && (
        <Dialog
          onClose={() => setNaming(undefined)}
          title={naming === "new" ? t("Duplicate edition") : t("Rename edition")}
          centered
        >
          <form
            onSubmit={(event) => {
              event.preventDefault();
              keep();
            }}
          >
            <TextInput
              label={t("Name")}
              description={t("A customer, or a wording")}
              data-autofocus
              maxLength={120}
              value={name}
              onChange={(event) => setName(event.currentTarget.value)}
            />
            <Button type="submit" mt={12} disabled={!name.trim()}>
              {t("Save")}
            </Button>
          </form>
        </Dialog>
      )}
    </>
  );
}
