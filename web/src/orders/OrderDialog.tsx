import { Button, Group, Select, Textarea, TextInput } from "@mantine/core";
import { useState } from "react";
import type { NewOrder } from "../api/client";
import type { View } from "../editing/view";
import { Answer } from "../ui/Answer";
import { Dialog } from "../ui/Dialog";
import { NumberField } from "../ui/NumberField";
import { t } from "../words";
import { COUNTRIES, HERE } from "./countries";
import { OrderSummary } from "./OrderSummary";
import type { To, Written } from "./order";
import css from "./orders.module.css";
import { useLab, useOrdering, useOrders } from "./useOrders";

/** An earlier version left addresses in the browser; orders know them. */
for (const key of Object.keys(localStorage))
  if (key.startsWith("sutaru where to")) localStorage.removeItem(key);

const EMPTY: To = { name: "", street: "", postcode: "", place: "", country: HERE };
const FIELDS = { name: t("Name"), street: t("Street"), postcode: t("Postcode"), place: t("Town") } as const;

/** What an address still lacks. */
const lacking = (to: To) =>
  [...Object.entries(FIELDS), ["country", t("Country")] as const]
    .filter(([field]) => !to[field as keyof To].trim())
    .map(([, label]) => label.toLowerCase());

/** Orders what an export wrote: on which paper, how many, where to. All of it is shown once more before it is sent. */
export function OrderDialog({
  state,
  task,
  files,
  onClose,
}: {
  state: View;
  task: string;
  files: Written[];
  onClose: () => void;
}) {
  const lab = useLab(true);
  const orders = useOrders();
  const { order } = useOrdering();
  // One dialog is one order, however often it is sent.
  const [token] = useState(() => crypto.randomUUID());
  const last =
    orders.data?.find((one) => one.job === state.id)?.to ??
    orders.data?.find((one) => one.to.name && one.to.name === state.job.customer)?.to;
  const [typed, setTyped] = useState<Partial<To>>({});
  const to: To = { ...EMPTY, name: state.job.customer ?? "", ...known(last), ...typed };
  const [paper, setPaper] = useState("");
  const [finish, setFinish] = useState("");
  const [cover, setCover] = useState("");
  const lines = [...new Set(files.map((file) => file.edition ?? ""))];
  const [apart, setApart] = useState<Record<string, To>>({});
  const [copies, setCopies] = useState(0);
  const [note, setNote] = useState("");
  const [wish, setWish] = useState("");
  const [looking, setLooking] = useState(false);
  const chosen = paper || lab.data?.papers?.[0] || "";
  const missing = [
    ...lacking(to),
    ...Object.entries(apart).flatMap(([line, one]) => lacking(one).map((field) => `${line}: ${field}`)),
  ];
  const request: NewOrder = {
    export: task, token, to, paper: chosen, finish, cover, copies, note, wish, each_to: apart,
  }; // biome-ignore format: one order
  if (looking)
    return (
      <Dialog onClose={() => setLooking(false)} title={t("Check the order")} centered>
        <OrderSummary
          job={state.id}
          order={request}
          files={files}
          lab={lab.data}
          sending={order.isPending}
          onBack={() => setLooking(false)}
          onSend={() => order.mutate(request, { onSuccess: onClose })}
        />
      </Dialog>
    );
  return (
    <Dialog onClose={onClose} title={t("Order from the lab")} centered>
      <form
        className={css.form}
        onSubmit={(event) => {
          event.preventDefault();
          setLooking(true);
        }}
      >
        {lab.data && !lab.data.reachable && (
          <p role="alert" className={css.note}>
            {t("{message} The order is saved as not sent. Send it when the lab is back.", {
              message: lab.data.message,
            })}
          </p>
        )}
        <AddressFields to={to} onChange={(more) => setTyped({ ...typed, ...more })} />
        {lines.length > 1 && <Apart lines={lines} apart={apart} onChange={setApart} />}
        <Group grow align="end">
          <Select
            size="xs"
            label={t("Paper")}
            allowDeselect={false}
            value={chosen}
            data={lab.data?.papers ?? []}
            onChange={(value) => value && setPaper(value)}
          />
          <Select
            size="xs"
            label={t("Finish")}
            allowDeselect={false}
            value={finish || "none"}
            data={["none", ...(lab.data?.finishes ?? [])]}
            onChange={(value) => setFinish(value && value !== "none" ? value : "")}
          />
          {state.job.book && (
            <Select
              size="xs"
              label={t("Cover")}
              allowDeselect={false}
              value={cover || "as the book says"}
              data={[t("as the book says"), ...(lab.data?.covers ?? [])]}
              onChange={(value) => setCover(value && value !== "as the book says" ? value : "")}
            />
          )}
        </Group>
        <Group grow align="end">
          <NumberField
            label={lines.length > 1 ? t("Copies of each (0 = its own)") : t("Copies")}
            min={lines.length > 1 ? 0 : 1}
            max={100000}
            value={copies || (lines.length > 1 ? 0 : (files[0]?.copies ?? 1))}
            onKeep={setCopies}
          />
          <TextInput
            size="xs"
            label={t("Needed by")}
            maxLength={200}
            value={wish}
            onChange={(event) => setWish(event.currentTarget.value)}
          />
        </Group>
        <Textarea
          size="xs"
          label={t("Note to the lab")}
          maxLength={1000}
          autosize
          minRows={1}
          value={note}
          onChange={(event) => setNote(event.currentTarget.value)}
        />
        {missing.length > 0 && (
          <p className={css.note}>{t("Still missing: {missing}.", { missing: missing.join(", ") })}</p>
        )}
        <Answer>
          <Button type="submit" disabled={missing.length > 0}>
            {t("Check order")}
          </Button>
        </Answer>
      </form>
    </Dialog>
  );
}

/** An address as an order kept it, without what it did not say. */
const known = (to: Partial<To> | undefined): Partial<To> =>
  Object.fromEntries(Object.entries(to ?? {}).filter(([, value]) => value));

function AddressFields({
  to,
  onChange,
  of = "",
}: {
  to: To;
  onChange: (more: Partial<To>) => void;
  of?: string;
}) {
  const field = (name: keyof typeof FIELDS) => (
    <TextInput
      size="xs"
      label={FIELDS[name]}
      aria-label={of ? `${of}: ${FIELDS[name]}` : undefined}
      maxLength={name === "postcode" ? 20 : 200}
      value={to[name]}
      onChange={(event) => onChange({ [name]: event.currentTarget.value })}
    />
  );
  return (
    <>
      <Group grow>
        {field("name")}
        {field("street")}
      </Group>
      <div className={css.town}>
        {field("postcode")}
        {field("place")}
        <Select
          size="xs"
          label={t("Country")}
          aria-label={of ? t("{of}: Country", { of }) : undefined}
          searchable
          allowDeselect={false}
          value={to.country || null}
          data={COUNTRIES}
          onChange={(country) => onChange({ country: country ?? "" })}
        />
      </div>
    </>
  );
}

/** Editions that are sent elsewhere than the rest: each with an address of its own. */
function Apart({
  lines,
  apart,
  onChange,
}: {
  lines: string[];
  apart: Record<string, To>;
  onChange: (apart: Record<string, To>) => void;
}) {
  const rest = lines.filter((line) => !(line in apart));
  return (
    <>
      {Object.entries(apart).map(([line, to]) => (
        <fieldset key={line} className={css.apart}>
          <legend>{t("Ship {line} to", { line })}</legend>
          <AddressFields
            of={line}
            to={to}
            onChange={(more) => onChange({ ...apart, [line]: { ...to, ...more } })}
          />
          <Button
            size="compact-xs"
            variant="subtle"
            onClick={() =>
              onChange(Object.fromEntries(Object.entries(apart).filter(([key]) => key !== line)))
            }
          >
            {t("Ship with the rest")}
          </Button>
        </fieldset>
      ))}
      {rest.length > 1 && (
        <Select
          size="xs"
          label={t("Ship to another address")}
          placeholder={t("None")}
          searchable
          value={null}
          data={rest}
          onChange={(line) => line && onChange({ ...apart, [line]: { ...EMPTY, name: line } })}
        />
      )}
    </>
  );
}
