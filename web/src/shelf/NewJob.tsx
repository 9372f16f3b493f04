import { Button, Checkbox, Group, Select, Stack, TextInput } from "@mantine/core";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api, type TemplateCard } from "../api/client";
import { useLabs, useTemplates } from "../api/queries";
import { Places } from "../lettering/Places";
import { Answer } from "../ui/Answer";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { NumberField } from "../ui/NumberField";
import { t } from "../words";
import { asKept, NOBODY, type Who, WhoFor } from "./WhoFor";

/** Asks what a job needs to start: a name, a customer, a lab sheet. */
export function NewJob({ template, onClose }: { template: TemplateCard; onClose: () => void }) {
  const labs = useLabs();
  const queries = useQueryClient();
  const [, go] = useLocation();
  const [who, setWho] = useState<Who>({ ...NOBODY, name: template.name });
  const [lab, setLab] = useState<string | null>(null);
  const [samples, setSamples] = useState(false);
  const [busy, setBusy] = useState(false);
  const templates = useTemplates();
  const variants = (templates.data ?? []).filter((one) => one.group === template.group && !one.archived);
  const [byPhoto, setByPhoto] = useState(true);
  const calendar = template.months > 0 || template.year;
  const [months, setMonths] = useState(12);
  const [first, setFirst] = useState(`${new Date().getFullYear() + 1}-01`);
  const [place, setPlace] = useState({ country: "", region: "", more_holidays: false, locale: "en_GB" });
  const chosen = lab ?? labs.data?.[0]?.id ?? "";
  const note = labs.data?.find((sheet) => sheet.id === chosen)?.note;
  const start = async () => {
    setBusy(true);
    try {
      const body = {
        template: template.id,
        ...asKept(who),
        lab: chosen,
        samples,
        by_photo: byPhoto && variants.length > 1,
        months: template.months > 0 ? months : calendar ? 1 : 0,
        first_month: calendar ? first : "",
        ...place,
      };
      const { id } = await answer<{ id: string }>(api.POST("/api/jobs", { body }));
      queries.invalidateQueries({ queryKey: ["jobs"] });
      go(`/jobs/${id}`);
    } catch (error) {
      complain(error);
      setBusy(false);
    }
  };
  return (
    <Dialog onClose={onClose} title={t("New job: {name}", { name: template.name })} centered>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          start();
        }}
      >
        <Stack gap="sm">
          <WhoFor who={who} onChange={setWho} />
          <Select
            label={t("Lab sheet")}
            allowDeselect={false}
            value={chosen}
            onChange={setLab}
            description={note}
            inputWrapperOrder={["label", "input", "description"]}
            data={(labs.data ?? []).map((sheet) => ({
              value: sheet.id,
              label: `${sheet.name}, ${sheet.lab}`,
            }))}
          />
          {variants.length > 1 && (
            <Checkbox
              label={t("Chosen by the first photo: {orientations}", {
                orientations: [...new Set(variants.map((one) => one.orientation))].sort().join(" or "),
              })}
              checked={byPhoto}
              onChange={(event) => setByPhoto(event.currentTarget.checked)}
            />
          )}
          {calendar && (
            <>
              <Group grow align="end">
                <TextInput
                  type="month"
                  label={t("First month")}
                  value={first}
                  onChange={(event) => setFirst(event.currentTarget.value)}
                />
                {template.months > 0 && (
                  <NumberField label={t("Months")} min={1} max={18} value={months} onKeep={setMonths} />
                )}
              </Group>
              <Places
                {...place}
                onCountry={(country) => setPlace({ ...place, country, region: "" })}
                onRegion={(region) => setPlace({ ...place, region })}
                onMore={(more_holidays) => setPlace({ ...place, more_holidays })}
                onLocale={(locale) => setPlace({ ...place, locale })}
              />
            </>
          )}
          <Checkbox
            label={t("Add sample photos to try the template")}
            checked={samples}
            onChange={(event) => setSamples(event.currentTarget.checked)}
          />
          <Answer>
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button type="submit" loading={busy} disabled={!who.name.trim() || !chosen}>
              {t("Create job")}
            </Button>
          </Answer>
        </Stack>
      </form>
    </Dialog>
  );
}
