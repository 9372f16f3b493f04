import { Button, Checkbox, Select, Stack, TextInput } from "@mantine/core";
import { useState } from "react";
import type { FolderRule, WatchedFolder } from "../api/client";
import { useLabs, useTemplates } from "../api/queries";
import { Answer } from "../ui/Answer";
import { Dialog } from "../ui/Dialog";
import { t } from "../words";
import { FILLS, FORMATS } from "./rules";
import { useWatching } from "./useWatched";

const AS_THE_LAB_SAYS = "lab";

/** Asks what is made of each folder that is laid in: for a new watched folder, or from now on for one that is there. */
export function RuleDialog({ folder, onClose }: { folder?: WatchedFolder; onClose: () => void }) {
  const templates = (useTemplates().data ?? []).filter((one) => !one.archived);
  const labs = useLabs().data ?? [];
  const { make, alter } = useWatching();
  const [name, setName] = useState("");
  const [said, setSaid] = useState<Partial<FolderRule>>({ ...folder?.rule });
  const set = (change: Partial<FolderRule>) => setSaid({ ...said, ...change });
  const rule: FolderRule = {
    template: templates.find((one) => one.id === said.template)?.id ?? "",
    lab: labs.find((one) => one.id === said.lab)?.id ?? labs[0]?.id ?? "",
    fill: said.fill ?? "best",
    export: said.export ?? true,
    format: said.format ?? null,
  };
  const missing = (!folder && !name.trim()) || !rule.template;
  const keep = () =>
    folder
      ? alter.mutate({ name: folder.name, rule }, { onSuccess: onClose })
      : make.mutate({ name, rule }, { onSuccess: onClose });
  return (
    <Dialog
      onClose={onClose}
      title={folder ? t("Another rule for {name}", { name: folder.name }) : t("Watch a folder")}
      centered
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!missing) keep();
        }}
      >
        <Stack gap="sm">
          {!folder && (
            <TextInput
              label={t("Name of the folder")}
              placeholder={t("post-cards")}
              maxLength={60}
              data-autofocus
              value={name}
              onChange={(event) => setName(event.currentTarget.value)}
            />
          )}
          <Select
            label={t("Template")}
            searchable
            allowDeselect={false}
            placeholder={t("Choose one")}
            value={rule.template || null}
            data={templates.map((one) => ({ value: one.id, label: one.name }))}
            onChange={(template) => template && set({ template })}
          />
          <Select
            label={t("Lab sheet")}
            allowDeselect={false}
            value={rule.lab ?? ""}
            data={labs.map((one) => ({ value: one.id, label: `${one.name}, ${one.lab}` }))}
            onChange={(lab) => lab && set({ lab })}
          />
          <Select
            label={t("Photos go into the openings")}
            allowDeselect={false}
            value={rule.fill ?? "best"}
            data={FILLS.map((one) => ({ ...one }))}
            onChange={(fill) => fill && set({ fill: fill as FolderRule["fill"] })}
          />
          <Checkbox
            label={t("Export at once if nothing blocks it")}
            checked={rule.export}
            onChange={(event) => set({ export: event.currentTarget.checked })}
          />
          {rule.export && (
            <Select
              label={t("Exported as")}
              allowDeselect={false}
              value={rule.format ?? AS_THE_LAB_SAYS}
              data={[{ value: AS_THE_LAB_SAYS, label: t("what the lab sheet says") }, ...FORMATS]}
              onChange={(value) =>
                set({ format: value === AS_THE_LAB_SAYS ? null : (value as FolderRule["format"]) })
              }
            />
          )}
          <Answer>
            <Button type="submit" loading={make.isPending || alter.isPending} disabled={missing}>
              {folder ? t("Save rule") : t("Watch folder")}
            </Button>
          </Answer>
        </Stack>
      </form>
    </Dialog>
  );
}
