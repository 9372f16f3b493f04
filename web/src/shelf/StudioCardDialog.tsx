import { Button, Group, Stack, Textarea, TextInput } from "@mantine/core";
import { useRef, useState } from "react";
import { type AssetKept, answer, api, type StudioCard, sent } from "../api/client";
import { client, useCard } from "../api/queries";
import { Answer } from "../ui/Answer";
import { ColourInput } from "../ui/colour/ColourInput";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { t } from "../words";
import css from "./shelf.module.css";

const LINES = [
  ["name", t("Name of the studio"), 120],
  ["web", t("Web address"), 120],
  ["phone", t("Telephone"), 60],
  ["mail", t("Email"), 120],
] as const;

/** The studio card: what every imprint says of the studio, and its colours. */
export function StudioCardDialog({ onClose }: { onClose: () => void }) {
  const card = useCard();
  return card.data ? <Card card={card.data} onClose={onClose} /> : null;
}

function Card({ card, onClose }: { card: StudioCard; onClose: () => void }) {
  const [said, setSaid] = useState(card);
  const [busy, setBusy] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const set = (change: Partial<StudioCard>) => setSaid((before) => ({ ...before, ...change }));
  const keep = async () => {
    setBusy(true);
    try {
      await answer<StudioCard>(api.PUT("/api/studio-card", { body: said }));
      client.invalidateQueries({ queryKey: ["card"] });
      client.invalidateQueries({ queryKey: ["templates"] });
      onClose();
    } catch (error) {
      complain(error);
      setBusy(false);
    }
  };
  const logo = async (picked: File | undefined) => {
    if (!picked) return;
    setBusy(true);
    try {
      const asset = await sent<AssetKept>("/api/assets", picked);
      if (!["drawing", "mask", "overlay"].includes(asset.kind))
        throw new Error(t("{name} is no picture. Choose an SVG, PNG or JPEG.", { name: picked.name }));
      set({ logo: asset.name });
    } catch (error) {
      complain(error);
    } finally {
      setBusy(false);
      if (file.current) file.current.value = "";
    }
  };
  return (
    <Dialog onClose={onClose} centered title={t("Studio card")}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <Stack gap="sm">
          <p className={css.hint}>
            {t(
              "Templates print these details. Jobs already started keep the details they were started with.",
            )}
          </p>
          {LINES.map(([field, label, most]) => (
            <TextInput
              key={field}
              label={label}
              maxLength={most}
              data-autofocus={field === "name" || undefined}
              value={said[field] ?? ""}
              onChange={(event) => set({ [field]: event.currentTarget.value })}
            />
          ))}
          <Textarea
            label={t("Address")}
            autosize
            minRows={2}
            maxLength={300}
            value={said.address ?? ""}
            onChange={(event) => set({ address: event.currentTarget.value })}
          />
          <Group grow>
            <ColourInput
              size="sm"
              label={t("Main colour")}
              value={said.main ?? "#2f5d6b"}
              onChange={(main) => set({ main })}
            />
            <ColourInput
              size="sm"
              label={t("Second colour")}
              value={said.second ?? "#b4532a"}
              onChange={(second) => set({ second })}
            />
          </Group>
          <Group gap="xs">
            <input
              ref={file}
              type="file"
              accept=".svg,.png,.jpg,.jpeg"
              hidden
              data-testid="logo-file"
              onChange={(event) => logo(event.target.files?.[0])}
            />
            <Button variant="default" onClick={() => file.current?.click()}>
              {said.logo ? t("Replace logo…") : t("Add logo (SVG, PNG, JPEG)…")}
            </Button>
            {said.logo && (
              <>
                <img className={css.logo} src={`/api/studio-card/logo/${said.logo}`} alt={t("The logo")} />
                <Button variant="subtle" color="gray" onClick={() => set({ logo: null })}>
                  {t("Remove logo")}
                </Button>
              </>
            )}
          </Group>
          <Answer>
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button type="submit" loading={busy}>
              {t("Save")}
            </Button>
          </Answer>
        </Stack>
      </form>
    </Dialog>
  );
}
