import { ActionIcon, Button, Group, Select, Stack, TextInput } from "@mantine/core";
import IconX from "@tabler/icons-react/icons/IconX";
import { useState } from "react";
import { type Dated, type DatesRead, sent } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { ChooseFile } from "../ui/ChooseFile";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { MonthField } from "../ui/MonthField";
import { t, tn } from "../words";
import css from "./lettering.module.css";
import { Places } from "./Places";

/** A day as it is shown and typed: 1987-06-14, or 06-14 where the year is not known. */
const dayOf = (dated: Dated) =>
  `${dated.year ? `${String(dated.year).padStart(4, "0")}-` : ""}${String(dated.month).padStart(2, "0")}-${String(dated.day).padStart(2, "0")}`;

/** What the calendars of an order show: from which month on, whose holidays, the customer's own dates. */
export function CalendarDialog({ state, onClose }: { state: View; onClose: () => void }) {
  const { edit } = useChange(state);
  const settings = state.job.calendar ?? {
    dates: [],
    leap: "before",
    country: "",
    region: "",
    more_holidays: false,
  };
  const dates = settings.dates ?? [];
  const months = state.sheets.filter((sheet) => sheet.role === "month");
  const first = months[0]?.fields?.month ?? "";
  const set = (fields: Record<string, unknown>) => edit({ op: "set_calendar", ...fields });
  const [note, setNote] = useState("");
  const [day, setDay] = useState("");
  const [text, setText] = useState("");
  const typed = /^(?:(\d{4})-|--)?(\d\d)-(\d\d)$/.exec(day.trim());
  const good = typed && text.trim() && Number(typed[2]) <= 12 && Number(typed[3]) <= 31;
  const add = () => {
    if (!good || !typed) return;
    const fresh = { year: typed[1] ? Number(typed[1]) : null, month: Number(typed[2]), day: Number(typed[3]), text: text.trim(), yearly: true, photo: "" }; // biome-ignore format: a date
    set({ dates: [...dates, fresh] });
    setDay("");
    setText("");
  };
  // A list that does not tell whether the day or the month comes first waits to be asked about.
  const [unsure, setUnsure] = useState<File>();
  const [isReading, setIsReading] = useState(false);
  const bring = async (file: File | null, order?: "day" | "month") => {
    if (!file) return;
    setUnsure(undefined);
    setIsReading(true);
    try {
      const read = await sent<DatesRead>(
        `/api/words/jobs/${state.id}/dates?name=${encodeURIComponent(file.name)}${order ? `&order=${order}` : ""}`,
        file,
      );
      if (!read.is_sure) {
        setNote("");
        setUnsure(file);
        return;
      }
      set({ dates: [...dates, ...read.dates] });
      const away = read.away
        ? ` ${tn(read.away, "{n} date falls in none of the months here.", "{n} dates fall in none of the months here.")}`
        : "";
      const untold = read.untold.length
        ? ` ${t("Not told: {dates}.", { dates: read.untold.slice(0, 3).join("; ") })}`
        : "";
      setNote(`${tn(read.dates.length, "{n} date brought in.", "{n} dates brought in.")}${away}${untold}`);
    } catch (error) {
      complain(error);
    } finally {
      setIsReading(false);
    }
  };
  return (
    <Dialog onClose={onClose} title={t("Calendar")} size="lg">
      <Stack gap="xs">
        {months.length > 0 && (
          <MonthField label={t("First month")} value={first} onKeep={(next) => set({ first_month: next })} />
        )}
        <Places
          country={settings.country ?? ""}
          region={settings.region ?? ""}
          more_holidays={settings.more_holidays ?? false}
          locale={state.job.locale ?? "en_GB"}
          onCountry={(country) => set({ country, region: "" })}
          onRegion={(region) => set({ region })}
          onMore={(more_holidays) => set({ more_holidays })}
          onLocale={(locale) => edit({ op: "say", fields: {}, locale })}
        />
        <Select
          size="xs"
          label={t("29 February in other years")}
          allowDeselect={false}
          value={settings.leap ?? "before"}
          data={[
            { value: "before", label: t("on 28 February") },
            { value: "after", label: t("on 1 March") },
            { value: "only", label: t("nowhere") },
          ]}
          onChange={(leap) => leap && leap !== settings.leap && set({ leap })}
        />
        <h4 className={css.title}>{t("The customer's dates")}</h4>
        <ul className={css.dates} aria-label={t("The customer's dates")}>
          {dates.map((dated, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two dates may say the same
            <li key={`${dayOf(dated)} ${dated.text} ${index}`}>
              <span className="num">{dayOf(dated)}</span>
              <span>{dated.text}</span>
              <Select
                size="xs"
                aria-label={t("Photo on the day of {text}", { text: dated.text })}
                placeholder={t("no photo")}
                searchable
                clearable
                w={150}
                value={dated.photo || null}
                data={state.photos.map((photo) => ({ value: photo.id, label: photo.name }))}
                onChange={(photo) =>
                  set({ dates: dates.map((one, n) => (n === index ? { ...one, photo: photo ?? "" } : one)) })
                }
              />
              <ActionIcon
                variant="subtle"
                size="md"
                aria-label={t("Remove {text}", { text: dated.text })}
                onClick={() => set({ dates: dates.filter((_, n) => n !== index) })}
              >
                <IconX size={14} />
              </ActionIcon>
            </li>
          ))}
          {!dates.length && <li className={css.hint}>{t("No dates yet: add one or import a list.")}</li>}
        </ul>
        {unsure ? (
          <div role="alert" className={css.asked}>
            <p>
              {t(
                "Nothing in {name} tells whether the day or the month comes first. What does 06/07 mean in it?",
                { name: unsure.name },
              )}
            </p>
            <Group gap="xs">
              <Button size="xs" variant="default" onClick={() => bring(unsure, "day")}>
                {t("6 July (day first)")}
              </Button>
              <Button size="xs" variant="default" onClick={() => bring(unsure, "month")}>
                {t("7 June (month first)")}
              </Button>
              <Button size="xs" variant="subtle" onClick={() => setUnsure(undefined)}>
                {t("Cancel")}
              </Button>
            </Group>
          </div>
        ) : (
          <form
            className={css.fresh}
            onSubmit={(event) => {
              event.preventDefault();
              add();
            }}
          >
            <TextInput
              size="xs"
              label={t("Day")}
              placeholder={t("1987-06-14 or 06-14")}
              value={day}
              onChange={(event) => setDay(event.currentTarget.value)}
            />
            <TextInput
              size="xs"
              label={t("Text")}
              maxLength={200}
              value={text}
              onChange={(event) => setText(event.currentTarget.value)}
            />
            <Button type="submit" size="xs" variant="default" disabled={!good}>
              {t("Add")}
            </Button>
          </form>
        )}
        <Group justify="space-between">
          <Group gap="xs">
            <ChooseFile accept=".csv,.ics,.txt,text/csv,text/calendar" onFile={(file) => bring(file)}>
              {(props) => (
                <Button {...props} size="xs" variant="default" loading={isReading}>
                  {t("Bring a list in (CSV, iCalendar)…")}
                </Button>
              )}
            </ChooseFile>
            {dates.length > 0 && (
              <Button size="xs" variant="subtle" onClick={() => set({ dates: [] })}>
                {t("Remove all")}
              </Button>
            )}
          </Group>
          <Button onClick={onClose}>{t("Done")}</Button>
        </Group>
        {note && (
          <p className={css.hint} role="status">
            {note}
          </p>
        )}
      </Stack>
    </Dialog>
  );
}
