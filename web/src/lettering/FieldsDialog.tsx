import { ActionIcon, Button, Select, Stack, TextInput } from "@mantine/core";
import IconX from "@tabler/icons-react/icons/IconX";
import { useState } from "react";
import { useChange } from "../editing/changes";
import { useKept } from "../editing/kept";
import type { View } from "../editing/view";
import { Answer } from "../ui/Answer";
import { Dialog } from "../ui/Dialog";
import { t } from "../words";
import css from "./lettering.module.css";
import { LocaleField } from "./Places";

const FIRST = ["title", "date"];

/** What words name in braces, said once for the whole order, or for one edition of it. */
export function FieldsDialog({ state, onClose }: { state: View; onClose: () => void }) {
  const { edit } = useChange(state);
  const several = state.job.editions.length > 1;
  const [of, setOf] = useState<"job" | "edition">("job");
  const held = (of === "job" ? state.job.fields : state.own.fields) ?? {};
  const names = [...new Set([...FIRST, ...Object.keys(state.job.fields ?? {}), ...Object.keys(held)])];
  const say = (fields: Record<string, string | null>, gesture?: string) =>
    edit({ op: "say", of, edition: of === "edition" ? state.own.id : "", fields }, { gesture });
  const [fresh, setFresh] = useState("");
  const name = fresh.trim().toLowerCase().replaceAll(" ", "_");
  const good = /^[a-z][a-z0-9_]{0,39}$/.test(name) && !names.includes(name);
  return (
    <Dialog onClose={onClose} title={t("Field values")} size="md">
      <Stack gap="xs">
        <p className={css.hint}>
          {t(
            "Words that name a field, as {title} or {date}, show what is said here. Dates are written as 2026-11-26 and shown as the chosen language writes them.",
            { title: "{title}", date: "{date}" },
          )}
        </p>
        {several && (
          <Select
            size="xs"
            label={t("Apply to")}
            allowDeselect={false}
            value={of}
            data={[
              { value: "job", label: t("the whole order") },
              { value: "edition", label: t("the edition {name}", { name: state.own.name }) },
            ]}
            onChange={(value) => setOf(value === "edition" ? "edition" : "job")}
          />
        )}
        {names.map((field) => (
          <Field
            key={`${of} ${field}`}
            name={field}
            value={held[field] ?? ""}
            elsewhere={of === "edition" ? state.job.fields?.[field] : undefined}
            onSay={(value, gesture) => say({ [field]: value || null }, gesture)}
            onGone={FIRST.includes(field) ? undefined : () => say({ [field]: null })}
          />
        ))}
        <form
          className={css.fresh}
          onSubmit={(event) => {
            event.preventDefault();
            if (good) say({ [name]: "…" });
            setFresh("");
          }}
        >
          <TextInput
            size="xs"
            label={t("New field")}
            placeholder={t("place")}
            value={fresh}
            onChange={(event) => setFresh(event.currentTarget.value)}
          />
          <Button type="submit" size="xs" variant="default" disabled={!good}>
            {t("Add")}
          </Button>
        </form>
        <LocaleField
          label={t("Date language")}
          locale={state.job.locale ?? "en_GB"}
          onLocale={(locale) => edit({ op: "say", fields: {}, locale })}
        />
        <Answer>
          <Button onClick={onClose}>{t("Done")}</Button>
        </Answer>
      </Stack>
    </Dialog>
  );
}

function Field({
  name,
  value,
  elsewhere,
  onSay,
  onGone,
}: {
  name: string;
  value: string;
  elsewhere?: string;
  onSay: (value: string, gesture: string) => void;
  onGone?: () => void;
}) {
  const { shown, change } = useKept(value, onSay, 400);
  return (
    <TextInput
      size="xs"
      label={`{${name}}`}
      maxLength={500}
      placeholder={elsewhere ?? (name === "date" ? "2026-11-26" : "")}
      value={shown}
      onChange={(event) => change(event.currentTarget.value)}
      rightSection={
        onGone && (
          <ActionIcon
            variant="subtle"
            size="sm"
            aria-label={t("Remove {field}", { field: `{${name}}` })}
            onClick={onGone}
          >
            <IconX size={14} />
          </ActionIcon>
        )
      }
    />
  );
}
