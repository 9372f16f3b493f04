import { Button, Group, Select, Stack } from "@mantine/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api, type Folding, type FoldKind } from "../api/client";
import { useLabs, useThemes } from "../api/queries";
import { asKept, NOBODY, type Who, WhoFor } from "../shelf/WhoFor";
import { Answer } from "../ui/Answer";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { pageSize } from "../ui/format";
import { t } from "../words";
import css from "./card.module.css";
import { Flat } from "./Flat";

const IN = 25.4;
const SIZES = [
  { value: "5x7", label: "5 × 7 in", mm: [5 * IN, 7 * IN] },
  { value: "4x6", label: "4 × 6 in", mm: [4 * IN, 6 * IN] },
  { value: "a6", label: t("A6, 105 × 148 mm"), mm: [105, 148] },
  { value: "square", label: "140 × 140 mm", mm: [140, 140] },
  { value: "long", label: "99 × 210 mm", mm: [99, 210] },
] as const;

/** Begins a card: how it folds, drawn flat with what is upside down on the sheet; its size; a theme. */
export function NewCard({ onClose }: { onClose: () => void }) {
  const labs = useLabs();
  const themes = useThemes();
  const queries = useQueryClient();
  const [, go] = useLocation();
  const [who, setWho] = useState<Who>(NOBODY);
  const [kind, setKind] = useState<FoldKind["kind"]>("half");
  const [size, setSize] = useState<string>("5x7");
  const [lies, setLies] = useState("upright");
  const [lab, setLab] = useState("");
  const [theme, setTheme] = useState("shoreline");
  const [busy, setBusy] = useState(false);
  const [short = 0, long = 0] = SIZES.find((one) => one.value === size)?.mm ?? [];
  const [width, height] = lies === "across" ? [long, short] : [short, long];
  const kinds = useQuery({
    queryKey: ["folds"],
    queryFn: ({ signal }) => answer<FoldKind[]>(api.GET("/api/folds", { signal })),
    staleTime: Infinity,
  });
  const folding = useQuery({
    queryKey: ["fold", kind, width, height],
    queryFn: ({ signal }) =>
      answer<Folding>(
        api.GET("/api/folds/{kind}", {
          signal,
          params: { path: { kind: kind as "half" }, query: { width_mm: width, height_mm: height } },
        }),
      ),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const start = async () => {
    setBusy(true);
    try {
      const body = {
        ...asKept(who),
        lab: lab || labs.data?.[0]?.id || "",
        card: { fold: kind, width_mm: width, height_mm: height, theme, by_photo: lies === "photo" },
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
    <Dialog onClose={onClose} title={t("New card")} size={880}>
      <form
        className={css.begin}
        onSubmit={(event) => {
          event.preventDefault();
          start();
        }}
      >
        <Stack gap="xs">
          <WhoFor who={who} onChange={setWho} />
          <Select
            size="xs"
            label={t("Fold")}
            allowDeselect={false}
            value={kind}
            onChange={(value) => value && setKind(value)}
            data={(kinds.data ?? []).map((one) => ({ value: one.kind, label: one.what }))}
          />
          <Group grow>
            <Select
              size="xs"
              label={t("Closed size")}
              allowDeselect={false}
              value={size}
              onChange={(value) => value && setSize(value)}
              data={SIZES.map(({ value, label }) => ({ value, label }))}
            />
            <Select
              size="xs"
              label={t("Card orientation")}
              allowDeselect={false}
              value={lies}
              onChange={(value) => value && setLies(value)}
              data={[
                { value: "upright", label: t("upright") },
                { value: "across", label: t("across") },
                { value: "photo", label: t("as the first photo") },
              ]}
            />
          </Group>
          <Group grow>
            <Select
              size="xs"
              label={t("Lab sheet")}
              allowDeselect={false}
              value={lab || labs.data?.[0]?.id || ""}
              onChange={(value) => value && setLab(value)}
              data={(labs.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
            />
            <Select
              size="xs"
              label={t("Theme")}
              allowDeselect={false}
              value={theme}
              onChange={(value) => value && setTheme(value)}
              data={(themes.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
            />
          </Group>
          <Answer>
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button type="submit" loading={busy} disabled={!who.name.trim()}>
              {t("Create card")}
            </Button>
          </Answer>
        </Stack>
        {folding.data && (
          <div className={css.flats}>
            <Flat folding={folding.data} side="outside" />
            <Flat folding={folding.data} side="inside" />
            <p className="num">
              {t(
                "The sheet is {width_mm}; closed it is {width}. Panels drawn upside down lie so on the sheet; each is worked on upright.",
                {
                  width_mm: pageSize(folding.data.width_mm, folding.data.height_mm),
                  width: pageSize(width, height),
                },
              )}
            </p>
          </div>
        )}
      </form>
    </Dialog>
  );
}
