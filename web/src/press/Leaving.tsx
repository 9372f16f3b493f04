import { Button, Checkbox, Group, Select, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type AssetKept, answer, api, type FileNames, type LabSheet, sent } from "../api/client";
import type { Said } from "../editing/changes";
import { ChooseFile } from "../ui/ChooseFile";
import { NumberField } from "../ui/NumberField";
import { useTyped } from "../ui/typed";
import { underWay } from "../ui/underWay";
import { t } from "../words";
import { SIDES } from "./bleeds";
import { usePresses, usePressOf } from "./ProofStrip";
import css from "./press.module.css";
import { Sharpened } from "./Sharpened";

type Press = NonNullable<LabSheet["press"]>;
type Rules = NonNullable<LabSheet["pdf"]>;

const SHARPEN = [
  { value: "none", label: t("no sharpening") },
  { value: "low", label: t("low sharpening") },
  { value: "standard", label: t("sharpened") },
  { value: "high", label: t("high sharpening") },
];
const INTENTS = [
  { value: "relative", label: t("relative colorimetric") },
  { value: "perceptual", label: t("perceptual") },
  { value: "saturation", label: t("saturation") },
  { value: "absolute", label: t("absolute colorimetric") },
];

/** How this job's files leave: the lab sheet's wishes, to be altered for this job alone. */
export function Leaving({
  job,
  lab,
  edit,
  sheetKey,
  size,
}: {
  job: string;
  lab: LabSheet;
  edit: (change: Said) => void;
  /** A sheet that sharpening can be looked at on: its picture's key; width, height and bleed, mm. */
  sheetKey: string;
  size: [number, number, number];
}) {
  const [sharp, setSharp] = useState(false);
  const presses = usePresses();
  const { press, pdf } = lab;
  const { name, inks } = usePressOf(lab);
  const alter = (change: Partial<LabSheet>) => edit({ op: "choose_lab", lab: { ...lab, ...change } });
  const set = (change: Partial<Press>) => press && alter({ press: { ...press, ...change } });
  const rule = (change: Partial<Rules>) => alter({ pdf: { ...pdf, ...change } as Rules });
  const inked = Boolean(press) && press?.convert !== false;
  const profiles = press && press.profile?.length === 64 ? [{ value: press.profile, label: name }] : [];
  const bring = async (file: File | null) => {
    if (!file) return;
    await underWay(async () => {
      const asset = await sent<AssetKept>("/api/assets", file);
      if (!asset.profile)
        throw new Error(t("This is not an ICC profile. Choose a file that ends in .icc or .icm."));
      alter({ press: { ...press, profile: asset.name } as Press });
    });
  };
  return (
    <details className={css.leaving}>
      <summary>{t("Output: {lab}", { lab: describeLab(lab, name) })}</summary>
      <div className={css.parts}>
        <Group gap={8} wrap="nowrap" align="end">
          <Select
            label={t("Press")}
            size="xs"
            flex={1}
            allowDeselect={false}
            value={press?.profile ?? ""}
            data={[
              { value: "", label: t("none: files stay RGB") },
              ...(presses.data ?? []).map((one) => ({ value: one.id, label: one.name })),
              ...profiles,
            ]}
            onChange={(value) =>
              alter(
                value
                  ? { press: { ...press, profile: value } as Press }
                  : { press: null, pdf: { ...pdf, x4: false } as Rules },
              )
            }
          />
          <ChooseFile onFile={bring} accept=".icc,.icm">
            {(props) => (
              <Button {...props} size="xs" variant="default">
                {t("Import profile…")}
              </Button>
            )}
          </ChooseFile>
        </Group>
        {press && (
          <>
            <Select
              label={t("Out-of-gamut colours")}
              size="xs"
              allowDeselect={false}
              value={press.intent ?? "relative"}
              data={INTENTS}
              onChange={(value) => value && set({ intent: value as Press["intent"] })}
            />
            <Checkbox
              size="xs"
              label={t("Black point compensation")}
              checked={press.black_point ?? true}
              onChange={(event) => set({ black_point: event.currentTarget.checked })}
            />
            <Checkbox
              size="xs"
              label={inks ? t("Convert to press inks") : t("Convert to press colours")}
              checked={press.convert ?? true}
              onChange={(event) => set({ convert: event.currentTarget.checked })}
            />
            {inks && (
              <>
                <Checkbox
                  size="xs"
                  label={t("Black text in black ink only (PDF)")}
                  checked={press.black_words ?? true}
                  onChange={(event) => set({ black_words: event.currentTarget.checked })}
                />
                <NumberField
                  label={t("Total ink limit, %")}
                  min={100}
                  max={400}
                  value={press.ink_limit ?? 320}
                  onKeep={(ink_limit) => set({ ink_limit })}
                />
              </>
            )}
          </>
        )}
        <Group grow align="end" preventGrowOverflow={false}>
          <Select
            label={t("Photos")}
            size="xs"
            allowDeselect={false}
            value={lab.sharpen ?? "none"}
            data={SHARPEN}
            onChange={(value) => value && alter({ sharpen: value as LabSheet["sharpen"] })}
          />
          <Select
            label={t("Paper")}
            size="xs"
            allowDeselect={false}
            value={lab.surface ?? "glossy"}
            data={["glossy", "matt"]}
            onChange={(value) => value && alter({ surface: value as LabSheet["surface"] })}
          />
          <Button size="xs" variant="default" onClick={() => setSharp(true)}>
            {t("Compare…")}
          </Button>
        </Group>
        {sharp && (
          <Sharpened
            sheetKey={sheetKey}
            lab={lab}
            size={size}
            onChoose={(sharpen) => alter({ sharpen })}
            onClose={() => setSharp(false)}
          />
        )}
        <Group gap={10}>
          <span>{t("Bleeds at")}</span>
          {SIDES.map((side) => (
            <Checkbox
              key={side}
              size="xs"
              label={side}
              aria-label={t("Bleeds at the {side}", { side })}
              checked={(lab.bleeds ?? SIDES).includes(side)}
              onChange={(event) =>
                alter({
                  bleeds: SIDES.filter((one) =>
                    one === side ? event.currentTarget.checked : (lab.bleeds ?? SIDES).includes(one),
                  ),
                })
              }
            />
          ))}
        </Group>
        <Checkbox
          size="xs"
          label={t("Add studio name to file metadata")}
          checked={lab.credit ?? false}
          onChange={(event) => alter({ credit: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("16 bits per channel (TIFF)")}
          description={t("Keeps fine gradation; files are two to three times larger.")}
          checked={lab.tiff_bits === 16}
          onChange={(event) => alter({ tiff_bits: event.currentTarget.checked ? 16 : 8 })}
        />
        <Naming job={job} value={lab.naming ?? "{job}_{page}"} onKeep={(naming) => alter({ naming })} />
        <Checkbox
          size="xs"
          label={t("PDF/X-4 (ISO 15930-7)")}
          disabled={!press}
          description={press ? undefined : t("It is made for a press: choose one.")}
          checked={pdf?.x4 ?? false}
          onChange={(event) => rule({ x4: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("All pages in one PDF")}
          checked={pdf?.one_file ?? false}
          onChange={(event) => rule({ one_file: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("Keep layers and transparency (PDF)")}
          disabled={inked}
          description={
            inked
              ? t("Only in RGB: inks blend otherwise than what is seen here.")
              : t(
                  "Soft edges and blending are worked out where it is printed; words stay words wherever they lie.",
                )
          }
          checked={Boolean(pdf?.live) && !inked}
          onChange={(event) => rule({ live: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label={t("Embed fonts (selectable text, PDF)")}
          checked={pdf?.fonts === "embedded"}
          onChange={(event) => rule({ fonts: event.currentTarget.checked ? "embedded" : "outlines" })}
        />
        <Group grow>
          <Spot label={t("Cut line spot colour")} value={pdf?.cut ?? ""} onCommit={(cut) => rule({ cut })} />
          <Spot label={t("Fold lines")} value={pdf?.fold ?? ""} onCommit={(fold) => rule({ fold })} />
        </Group>
      </div>
    </details>
  );
}

/** How files are called: the pattern, and what it makes of this job, while it is typed. */
function Naming({ job, value, onKeep }: { job: string; value: string; onKeep: (pattern: string) => void }) {
  const { typed, field } = useTyped(value, (text) => text && !names.error && onKeep(text));
  const [pattern] = useDebouncedValue(typed ?? value, 250);
  const names = useQuery({
    queryKey: ["names", job, pattern],
    queryFn: ({ signal }) =>
      answer<FileNames>(
        api.GET("/api/jobs/{job}/names", { signal, params: { path: { job }, query: { pattern } } }),
      ),
    enabled: pattern !== "",
    retry: false,
    placeholderData: (before) => before,
  });
  return (
    <TextInput
      {...field}
      size="xs"
      label={t("File names, from {fields}", { fields: "{job}, {customer}, {page}, {name}" })}
      maxLength={80}
      error={names.error?.message}
      description={
        names.data &&
        `${names.data.names.join(", ")}…${names.data.alike ? ` ${t("Two would be called alike: the later one says its number.")}` : ""}`
      }
      inputWrapperOrder={["label", "input", "description", "error"]}
    />
  );
}

/** The same in a few words. */
function describeLab(lab: LabSheet, press: string): string {
  const parts = [
    lab.press ? (lab.press.convert === false ? t("RGB, meant for {press}", { press }) : press) : "RGB",
    lab.pdf?.x4 && "PDF/X-4",
    lab.pdf?.live && !(lab.press && lab.press.convert !== false) && t("layers live"),
    lab.tiff_bits === 16 && t("TIFF of 16 bits"),
    lab.sharpen && lab.sharpen !== "none" && `${SHARPEN.find((one) => one.value === lab.sharpen)?.label}`,
  ];
  return parts.filter(Boolean).join(", ");
}

/** A spot colour's name, kept when it is left or Enter is pressed; empty for none. */
function Spot({
  label,
  value,
  onCommit,
}: {
  label: string;
  value: string;
  onCommit: (name: string) => void;
}) {
  const { field } = useTyped(value, onCommit);
  return <TextInput {...field} size="xs" label={label} placeholder={t("none")} maxLength={40} />;
}
