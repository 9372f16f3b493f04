import { Checkbox, Select } from "@mantine/core";
import { t } from "../words";
import { useCountries, useLocales } from "./families";

/** Whose holidays count, and how months and weekdays are called. */
export function Places({
  country,
  region,
  more_holidays,
  locale,
  onCountry,
  onRegion,
  onMore,
  onLocale,
}: {
  country: string;
  region: string;
  more_holidays: boolean;
  locale: string;
  onCountry: (country: string) => void;
  onRegion: (region: string) => void;
  onMore: (more: boolean) => void;
  onLocale: (locale: string) => void;
}) {
  const countries = useCountries();
  const entry = countries.data?.find((one) => one.id === country);
  const regions = entry?.regions ?? [];
  return (
    <>
      <LocaleField label={t("Language")} locale={locale} onLocale={onLocale} />
      <Select
        size="xs"
        label={t("Holidays")}
        searchable
        allowDeselect={false}
        value={country}
        data={[
          { value: "", label: t("nowhere") },
          ...(countries.data ?? []).map((one) => ({ value: one.id, label: `${one.name} (${one.id})` })),
        ]}
        onChange={(next) => next !== null && next !== country && onCountry(next)}
      />
      {regions.length > 0 && (
        <Select
          size="xs"
          label={t("Region")}
          searchable
          allowDeselect={false}
          value={region}
          data={[
            { value: "", label: t("the whole country") },
            ...regions.map(({ id, name }) => ({ value: id, label: name })),
          ]}
          onChange={(next) => next !== null && next !== region && onRegion(next)}
        />
      )}
      {entry?.has_more_holidays && (
        <Checkbox
          label={t("Include widely kept days")}
          checked={more_holidays}
          onChange={(event) => onMore(event.currentTarget.checked)}
        />
      )}
    </>
  );
}

/** A language as a place writes it; one that is not in the list stays what it is. */
export function LocaleField({
  label,
  locale,
  onLocale,
}: {
  label: string;
  locale: string;
  onLocale: (locale: string) => void;
}) {
  const known = useLocales().data ?? [];
  return (
    <Select
      size="xs"
      label={label}
      searchable
      allowDeselect={false}
      value={locale}
      data={[
        ...(known.some((one) => one.id === locale) ? [] : [{ value: locale, label: locale }]),
        ...known.map((one) => ({ value: one.id, label: `${one.name} (${one.id})` })),
      ]}
      onChange={(next) => next && next !== locale && onLocale(next)}
    />
  );
}
