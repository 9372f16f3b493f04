import { Button, Popover, SegmentedControl, TextInput } from "@mantine/core";
import { useState } from "react";
import { type AssetKept, sent } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { ChooseFile } from "../ui/ChooseFile";
import { underWay } from "../ui/underWay";
import { t } from "../words";
import { familyOf, specimen, useFamilies } from "./families";
import css from "./lettering.module.css";

const KINDS = ["all", "serif", "sans", "script", "hand", "display"] as const;

/** A family of fonts, each shown in its own look; and fonts of one's own. */
export function FontChooser({
  state,
  value,
  label = t("Font"),
  onChange,
}: {
  state: View;
  value: string;
  label?: string;
  onChange: (font: string) => void;
}) {
  const families = useFamilies();
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<(typeof KINDS)[number]>("all");
  const [words, setWords] = useState("");
  const fonts = Object.keys(state.layout.fonts ?? {}).sort();
  const sought = words.trim().toLowerCase();
  const seen = (families.data ?? []).filter(
    (family) => (kind === "all" || family.kind === kind) && family.name.toLowerCase().includes(sought),
  );
  const choose = (font: string) => {
    setOpen(false);
    if (font !== value) onChange(font);
  };
  const current = familyOf(value);
  return (
    <Popover opened={open} onChange={setOpen} position="left-start" shadow="md" trapFocus withinPortal>
      <Popover.Target>
        <button
          type="button"
          className={css.chosen}
          aria-label={`${label}: ${current}`}
          aria-haspopup="dialog"
          onClick={() => setOpen(!open)}
        >
          <Specimen font={current} own={fonts.includes(current)} />
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <div className={css.chooser}>
          <TextInput
            size="xs"
            aria-label={t("Find a font")}
            placeholder={t("Find a font")}
            value={words}
            data-autofocus
            onChange={(event) => setWords(event.currentTarget.value)}
          />
          <SegmentedControl
            size="xs"
            fullWidth
            value={kind}
            data={[...KINDS]}
            onChange={(next) => setKind(next as typeof kind)}
          />
          <ul className={css.families} aria-label={t("Fonts")}>
            {fonts
              .filter((name) => name.toLowerCase().includes(sought))
              .map((name) => (
                <li key={name}>
                  <button type="button" aria-pressed={name === current} onClick={() => choose(name)}>
                    <Specimen font={name} own />
                    <small>{t("brought in")}</small>
                  </button>
                </li>
              ))}
            {seen.map((family) => (
              <li key={family.name}>
                <button
                  type="button"
                  aria-label={family.name}
                  aria-pressed={family.name === current}
                  onClick={() => choose(family.name)}
                >
                  <Specimen font={family.name} />
                  <small>{family.kind}</small>
                </button>
              </li>
            ))}
          </ul>
          <BringFont state={state} onBrought={choose} />
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}

function Specimen({ font, own }: { font: string; own?: boolean }) {
  return own ? <span>{font}</span> : <img src={specimen(font)} alt={font} height={24} />;
}

/** A font of the studio's own: it goes with the job or template. */
function BringFont({ state, onBrought }: { state: View; onBrought: (font: string) => void }) {
  const { edit } = useChange(state);
  const bring = async (file: File | null) => {
    if (!file) return;
    await underWay(async () => {
      const asset = await sent<AssetKept>("/api/assets", file);
      if (asset.kind !== "font") throw new Error(t("This is not a font: bring in a TTF or OTF."));
      edit(
        { op: "bring_font", name: asset.family ?? "A font", asset: asset.name },
        {
          onStored: () => onBrought(asset.family ?? "A font"),
        },
      );
    });
  };
  return (
    <ChooseFile accept=".ttf,.otf,font/ttf,font/otf" onFile={bring}>
      {(props) => (
        <Button {...props} size="compact-xs" variant="default">
          {t("Import font (TTF, OTF)…")}
        </Button>
      )}
    </ChooseFile>
  );
}
