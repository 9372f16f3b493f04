import { Button, Checkbox, Group, Select } from "@mantine/core";
import { useState } from "react";
import type { PrintWish } from "../api/client";
import { Dialog } from "../ui/Dialog";
import { listed } from "../ui/format";
import { NumberField } from "../ui/NumberField";
import { UnitContext } from "../ui/units";
import { t, tn } from "../words";
import { bookletPages } from "./booklet";
import css from "./press.module.css";

const SHEETS = [
  { value: "450x320", label: "450 × 320 mm" },
  { value: "420x297", label: t("A3, 420 × 297 mm") },
  { value: "488x330", label: "488 × 330 mm" },
  { value: "640x450", label: "640 × 450 mm" },
  { value: "297x210", label: t("A4, 297 × 210 mm") },
  { value: "own", label: t("another size") },
];
const SIDES = [
  { value: "", label: t("fronts alone") },
  { value: "long", label: t("double-sided, flip on long edge") },
  { value: "short", label: t("double-sided, flip on short edge") },
];
const GRAINS = [
  { value: "any", label: t("any direction") },
  { value: "along", label: t("along a piece's height") },
  { value: "across", label: t("across a piece") },
];

/** Asks how pages are to be laid on print sheets. */
export function PrintSheets({
  onClose,
  onMake,
  roles,
}: {
  onClose: () => void;
  onMake: (wish: PrintWish) => void;
  /** What part each sheet of the job plays. */
  roles: string[];
}) {
  const [size, setSize] = useState("450x320");
  const [own, setOwn] = useState<[number, number]>([450, 320]);
  const [duplex, setDuplex] = useState("");
  const [copies, setCopies] = useState(0);
  const [margin, setMargin] = useState(5);
  const [folded, setFolded] = useState(false);
  const [creep, setCreep] = useState(0);
  const [grain, setGrain] = useState("any");
  const [picture, setPicture] = useState(false);
  const { pages, blank, hasCover } = bookletPages(roles);
  const [wide = 0, high = 0] = size === "own" ? own : size.split("x").map(Number);
  return (
    <UnitContext value="mm">
      <Dialog onClose={onClose} title={t("On print sheets")} centered>
        <div className={css.parts}>
          <Select
            label={t("Print sheet")}
            size="xs"
            allowDeselect={false}
            value={size}
            data={SHEETS}
            onChange={(value) => value && setSize(value)}
          />
          {size === "own" && (
            <Group grow>
              <NumberField
                label={t("Width")}
                unit="mm"
                min={50}
                max={5000}
                value={own[0]}
                onKeep={(v) => setOwn([v, own[1]])}
              />
              <NumberField
                label={t("Height")}
                unit="mm"
                min={50}
                max={5000}
                value={own[1]}
                onKeep={(v) => setOwn([own[0], v])}
              />
            </Group>
          )}
          <NumberField
            label={t("Non-printing margin")}
            unit="mm"
            min={0}
            max={100}
            value={margin}
            onKeep={setMargin}
          />
          {pages - blank.length >= 4 && (
            <Checkbox
              size="xs"
              label={t("Booklet (folded and stapled)")}
              checked={folded}
              onChange={(event) => setFolded(event.currentTarget.checked)}
            />
          )}
          {folded ? (
            <>
              <p className={`${css.note} num`} role="status">
                {t("{pages} on {sheets}.", {
                  pages: tn(pages, "{n} page", "{n} pages"),
                  sheets: tn(pages / 4, "{n} print sheet", "{n} print sheets"),
                })}
                {blank.length > 0 &&
                  ` ${tn(blank.length, "Page {pages} stays blank.", "Pages {pages} stay blank.", { pages: listed(blank) })}`}
                {hasCover && ` ${t("The cover is a separate file.")}`}
              </p>
              <NumberField
                label={t("Creep per sheet")}
                unit="mm"
                min={0}
                max={5}
                value={creep}
                onKeep={setCreep}
              />
            </>
          ) : (
            <>
              <Select
                label={t("Sides")}
                size="xs"
                allowDeselect={false}
                value={duplex}
                data={SIDES}
                onChange={(value) => setDuplex(value ?? "")}
              />
              <Select
                label={t("Paper grain (along the longer side)")}
                size="xs"
                allowDeselect={false}
                value={grain}
                data={GRAINS}
                onChange={(value) => value && setGrain(value)}
              />
              <NumberField
                label={t("Copies of each (0 = each edition's own)")}
                min={0}
                max={10000}
                value={copies}
                onKeep={setCopies}
              />
            </>
          )}
          <Checkbox
            size="xs"
            label={t("Save as JPEG (for printers without PDF)")}
            checked={picture}
            onChange={(event) => setPicture(event.currentTarget.checked)}
          />
          <p className={css.note}>
            {folded
              ? t(
                  "Two pages on a side, with marks for cutting and folding, their distances, a bar of inks and the job's name.",
                )
              : t(
                  "As many as fit, with marks for cutting and folding, their distances, a bar of inks and the job's name.",
                )}
          </p>
          <Button
            onClick={() => {
              onMake({
                width_mm: wide,
                height_mm: high,
                margin_mm: margin,
                duplex: folded ? "short" : (duplex as "long"),
                copies: copies || null,
                booklet: folded,
                signature: 0,
                creep_mm: creep,
                grain: wide >= high ? "width" : "height",
                piece_grain: grain as "any",
                gap_mm: null,
                picture,
              });
              onClose();
            }}
          >
            {t("Make print sheets")}
          </Button>
        </div>
      </Dialog>
    </UnitContext>
  );
}
