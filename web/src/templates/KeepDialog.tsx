import { Button, Checkbox, Select, Stack, TagsInput, Textarea, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Kept } from "../api/client";
import { client, useTemplates } from "../api/queries";
import { flush } from "../editing/flushing";
import { jobStore } from "../editing/jobs";
import type { View } from "../editing/view";
import { Answer } from "../ui/Answer";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { PRODUCTS } from "../ui/format";
import { t } from "../words";
import css from "./templates.module.css";

/** Keeps the sheets as a template of the studio's own. What is on the shelf already stays as it is. */
export function KeepDialog({ state, onClose }: { state: View; onClose: () => void }) {
  const { making } = state.job;
  const [name, setName] = useState(state.job.name);
  const [product, setProduct] = useState<string>(state.job.product);
  const [occasion, setOccasion] = useState(making?.occasion ?? "");
  const [tags, setTags] = useState<string[]>(making?.tags ?? []);
  const [note, setNote] = useState(making?.note ?? "");
  const [asNew, setAsNew] = useState(!making?.own);
  const templates = useTemplates();
  const [variantOf, setVariantOf] = useState(making?.variant_of ?? "");
  const [busy, setBusy] = useState(false);
  // What is a customer's, or belongs to one photo, is said before anything is saved.
  const left = useQuery({
    queryKey: [t("not kept"), state.id, state.seq, state.own.id],
    queryFn: ({ signal }) =>
      answer<string[]>(
        api.GET("/api/jobs/{job}/keep", {
          signal,
          params: { path: { job: state.id }, query: { edition: state.own.id } },
        }),
      ),
  });
  const keep = async () => {
    setBusy(true);
    try {
      flush();
      await jobStore(state.id).settled();
      const template = await answer<Kept>(
        api.POST("/api/jobs/{job}/keep", {
          params: { path: { job: state.id } },
          body: {
            as_new: asNew,
            edition: state.own.id,
            name: name.trim(),
            product: product as View["job"]["product"],
            occasion: occasion.trim(),
            tags,
            note,
            variant_of: variantOf,
          },
        }),
      );
      client.invalidateQueries({ queryKey: ["templates"] });
      jobStore(state.id).load();
      const which =
        template.revision > 1
          ? t("revision {revision}", { revision: template.revision })
          : t("a new template");
      notifications.show({
        message: t("“{name}” is on the shelf: {which}.", { name: template.name, which }),
        color: "dark",
      });
      onClose();
    } catch (error) {
      complain(error);
      setBusy(false);
    }
  };
  return (
    <Dialog onClose={onClose} centered title={t("Save as template")}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep();
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
            label={t("Product")}
            allowDeselect={false}
            data={PRODUCTS}
            value={product}
            onChange={(value) => setProduct(value ?? product)}
          />
          <TextInput
            label={t("Occasion")}
            maxLength={60}
            value={occasion}
            onChange={(event) => setOccasion(event.currentTarget.value)}
          />
          <TagsInput
            label={t("Search words")}
            maxTags={20}
            value={tags}
            onChange={setTags}
            clearButtonProps={{ "aria-label": t("Clear search words") }}
          />
          <Select
            label={t("Variant of")}
            description={t("The same in another orientation: the first photo of a job chooses")}
            clearable
            searchable
            clearButtonProps={{ "aria-label": t("No variant") }}
            placeholder={t("None")}
            value={variantOf || null}
            onChange={(value) => setVariantOf(value ?? "")}
            data={(templates.data ?? [])
              .filter((one) => one.id !== making?.own && (!one.archived || one.id === variantOf))
              .map((one) => ({ value: one.id, label: `${one.name}, ${one.orientation}` }))}
          />
          <Textarea
            label={t("Note")}
            maxLength={1000}
            autosize
            minRows={2}
            value={note}
            onChange={(event) => setNote(event.currentTarget.value)}
          />
          {making?.own && (
            <Checkbox
              label={t("As a new template, beside the one it was opened from")}
              checked={asNew}
              onChange={(event) => setAsNew(event.currentTarget.checked)}
            />
          )}
          {left.data && left.data.length > 0 && (
            <div className={css.left}>
              {t("Not saved with the template:")}
              <ul>
                {left.data.map((sentence) => (
                  <li key={sentence}>{sentence}</li>
                ))}
              </ul>
            </div>
          )}
          <Answer>
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button type="submit" loading={busy} disabled={!name.trim()}>
              {asNew ? t("Save as template") : t("Save new revision")}
            </Button>
          </Answer>
        </Stack>
      </form>
    </Dialog>
  );
}
