import { Button, Group, NumberInput, SegmentedControl, Select, Stack, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useRef, useState } from "react";
import { useLocation } from "wouter";
import { answer, api, type Product, type ReadFile, sent, type TemplateCard } from "../api/client";
import { client, useLabs } from "../api/queries";
import { ColourInput } from "../ui/colour/ColourInput";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { PRODUCTS, pageSize } from "../ui/format";
import { t, tn } from "../words";
import css from "./shelf.module.css";

const AREAS = [
  { value: "", label: t("found by themselves") },
  { value: "holes", label: t("transparent holes") },
  { value: "flat", label: t("areas of one colour") },
  { value: "#ffffff", label: t("white areas") },
  { value: "#808080", label: t("grey areas") },
  { value: "#000000", label: t("black areas") },
  { value: "colour", label: t("areas of another colour") },
  { value: "none", label: t("drawn by hand; the picture prints around them") },
  { value: "guide", label: t("drawn by hand; the picture is only a guide") },
];
const FOUND: Record<string, string> = {
  holes: t("by holes"),
  names: "",
  "flat layers": t("by flat layers"),
};
const MM = { mm: 1, cm: 10, in: 25.4 };

/** Begins a template: on a lab's blank, or on a sheet of any size; or takes one in from a file. */
export function NewTemplate({ onClose }: { onClose: () => void }) {
  const labs = useLabs();
  const [, go] = useLocation();
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState("");
  const [blank, setBlank] = useState<string | null>(null);
  const [product, setProduct] = useState<Product>("collage");
  const [unit, setUnit] = useState<keyof typeof MM>("in");
  const [size, setSize] = useState<[number, number]>([12, 12]);
  const [areas, setAreas] = useState("");
  const [colour, setColour] = useState("#00ff00");
  const [busy, setBusy] = useState(false);
  const blanks = (labs.data ?? []).flatMap((lab) =>
    (lab.blanks ?? []).map((one) => ({ lab: lab.id, labName: lab.name, ...one })),
  );
  const chosen = blanks.find((one) => `${one.lab} ${one.id}` === blank);
  const begin = async () => {
    setBusy(true);
    try {
      const body = chosen
        ? { name: name.trim(), lab: chosen.lab, blank: chosen.id, product: chosen.product }
        : {
            name: name.trim(),
            product,
            width_mm: Math.round(size[0] * MM[unit] * 1e6) / 1e6,
            height_mm: Math.round(size[1] * MM[unit] * 1e6) / 1e6,
          };
      const { id } = await answer<{ id: string }>(api.POST("/api/workshop", { body }));
      go(`/jobs/${id}/workshop`);
    } catch (error) {
      complain(error);
      setBusy(false);
    }
  };
  const take = async (picked: File | undefined) => {
    if (!picked) return;
    setBusy(true);
    try {
      if (picked.name.endsWith(".sutaru-template")) {
        await sent<TemplateCard>("/api/templates/from-file", picked);
        client.invalidateQueries({ queryKey: ["templates"] });
        onClose();
        return;
      }
      const guide = areas === "guide";
      const request = new URLSearchParams({
        name: picked.name,
        areas: guide ? "" : areas === "colour" ? colour : areas,
        guide: String(guide),
      });
      const read = await sent<ReadFile>(`/api/workshop/from-file?${request}`, picked);
      notifications.show({
        title: guide
          ? t("It is in the workshop as a guide: draw openings on it")
          : areas === "none"
            ? t("It is in the workshop as one picture: draw openings on it")
            : [
                tn(read.openings, "{n} opening found", "{n} openings found"),
                FOUND[read.how] ?? t("by the colour {how}", { how: read.how }),
              ]
                .filter(Boolean)
                .join(", "),
        message: read.notes.join(" "),
        color: "dark",
        autoClose: 15_000,
      });
      go(`/jobs/${read.id}/workshop`);
    } catch (error) {
      complain(error);
      setBusy(false);
    } finally {
      if (file.current) file.current.value = "";
    }
  };
  return (
    <Dialog onClose={onClose} centered title={t("New template")}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          begin();
        }}
      >
        <Stack gap="sm">
          <TextInput
            label={t("Name of the template")}
            required
            data-autofocus
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Select
            label={t("Lab's blank")}
            description={t("With the lab's bleed, safe area, gutter and folds")}
            placeholder={t("Custom size")}
            clearable
            clearButtonProps={{ "aria-label": t("No blank") }}
            value={blank}
            onChange={setBlank}
            data={blanks.map((one) => ({
              value: `${one.lab} ${one.id}`,
              label: `${one.name} (${one.labName}, ${pageSize(one.width_mm, one.height_mm)})`,
            }))}
          />
          {!chosen && (
            <>
              <Select
                label={t("Product")}
                allowDeselect={false}
                data={PRODUCTS}
                value={product}
                onChange={(value) => setProduct((value as Product) ?? product)}
              />
              <Group gap="xs" align="end" wrap="nowrap">
                {([t("Width"), t("Height")] as const).map((label, n) => (
                  <NumberInput
                    key={label}
                    label={label}
                    min={0.1}
                    decimalSeparator="."
                    allowedDecimalSeparators={[".", ","]}
                    hideControls
                    miw={0}
                    value={size[n]}
                    onChange={(value) => {
                      const now: [number, number] = [...size];
                      now[n] = Number(value) || 0;
                      setSize(now);
                    }}
                  />
                ))}
                <SegmentedControl
                  size="xs"
                  aria-label={t("Unit")}
                  style={{ flexShrink: 0 }}
                  value={unit}
                  onChange={(value) => setUnit(value as keyof typeof MM)}
                  data={Object.keys(MM)}
                />
              </Group>
            </>
          )}
          <Group justify="flex-end" gap="xs">
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button type="submit" loading={busy} disabled={!name.trim() || !size[0] || !size[1]}>
              {t("Open in workshop")}
            </Button>
          </Group>
          <fieldset className={css.fromFile}>
            <legend>{t("Or from a file")}</legend>
            <p>
              {t(
                "A flat picture of a template (PNG, JPEG, TIFF, WebP), an SVG, an OpenRaster file, a PDF; a lab's own blank as a guide; or a template saved as a file.",
              )}
            </p>
            <input
              ref={file}
              type="file"
              accept=".sutaru-template,.png,.jpg,.jpeg,.tif,.tiff,.webp,.svg,.ora,.pdf"
              hidden
              data-testid="template-file"
              onChange={(event) => take(event.target.files?.[0])}
            />
            <Group gap="xs" align="end">
              <Select
                size="xs"
                flex="1 1 16rem"
                label={t("Openings are")}
                allowDeselect={false}
                value={areas}
                onChange={(value) => setAreas(value ?? "")}
                data={AREAS}
              />
              {areas === "colour" && (
                <ColourInput label={t("Opening colour")} value={colour} onChange={setColour} />
              )}
              <Button variant="default" loading={busy} onClick={() => file.current?.click()}>
                {t("Import")}
              </Button>
            </Group>
          </fieldset>
        </Stack>
      </form>
    </Dialog>
  );
}
