import { Button, Group, Modal, Select, Textarea, TextInput } from "@mantine/core";
import { useState } from "react";
import type { View } from "../editing/view";
import { Answer } from "../ui/Answer";
import { NumberField } from "../ui/NumberField";
import css from "./orders.module.css";
import { useLab, useOrdering } from "./useOrders";

const WHERE = "sutaru where to";

/** Orders what an export wrote: on which paper, how many, where to; says what is still missing. */
export function OrderDialog({
  state,
  task,
  files,
  onClose,
}: {
  state: View;
  task: string;
  /** What was written, and how many of each are to be printed. */
  files: { copies: number; edition?: string }[];
  onClose: () => void;
}) {
  const lab = useLab(true);
  const { order } = useOrdering();
  const last = JSON.parse(localStorage.getItem(`${WHERE} ${state.id}`) ?? "{}") as Record<string, string>;
  const [to, setTo] = useState({
    name: last.name ?? state.job.customer ?? "",
    street: last.street ?? "",
    place: last.place ?? "",
  });
  const [paper, setPaper] = useState("");
  const [finish, setFinish] = useState("");
  const [cover, setCover] = useState("");
  const lines = [...new Set(files.map((file) => file.edition ?? ""))];
  const [apart, setApart] = useState<Record<string, typeof to>>({});
  const [copies, setCopies] = useState(0);
  const [note, setNote] = useState("");
  const [wish, setWish] = useState("");
  const chosen = paper || lab.data?.papers?.[0] || "";
  const price = lab.data?.reachable ? lab.data.prices : undefined;
  const missing = [
    !to.name.trim() && "who it is sent to",
    !to.street.trim() && "the street",
    !to.place.trim() && "the place",
    ...Object.entries(apart).map(
      ([line, one]) => (!one.name.trim() || !one.street.trim() || !one.place.trim()) && `where ${line} goes`,
    ),
  ].filter(Boolean);
  const pages = files.reduce((sum, file) => sum + (copies || file.copies), 0);
  const field = (name: keyof typeof to, label: string) => (
    <TextInput
      size="xs"
      label={label}
      maxLength={200}
      value={to[name]}
      onChange={(event) => setTo({ ...to, [name]: event.currentTarget.value })}
    />
  );
  return (
    <Modal
      opened
      onClose={onClose}
      title="Order from the lab"
      centered
      closeButtonProps={{ "aria-label": "Close" }}
    >
      <form
        className={css.form}
        onSubmit={(event) => {
          event.preventDefault();
          localStorage.setItem(`${WHERE} ${state.id}`, JSON.stringify(to));
          order.mutate(
            { export: task, to, paper: chosen, finish, cover, copies, note, wish, each_to: apart },
            { onSuccess: onClose },
          );
        }}
      >
        {lab.data && !lab.data.reachable && (
          <p role="alert" className={css.note}>
            {lab.data.message} What is ordered now is kept, and can be sent then.
          </p>
        )}
        {field("name", "To")}
        <Group grow>
          {field("street", "Street")}
          {field("place", "Place")}
        </Group>
        {lines.length > 1 && <Apart lines={lines} apart={apart} onChange={setApart} />}
        <Group grow align="end">
          <Select
            size="xs"
            label="Paper"
            allowDeselect={false}
            value={chosen}
            data={lab.data?.papers ?? []}
            onChange={(value) => value && setPaper(value)}
          />
          <Select
            size="xs"
            label="Finish"
            allowDeselect={false}
            value={finish || "none"}
            data={["none", ...(lab.data?.finishes ?? [])]}
            onChange={(value) => setFinish(value && value !== "none" ? value : "")}
          />
          {state.job.book && (
            <Select
              size="xs"
              label="Cover"
              allowDeselect={false}
              value={cover || "as the book says"}
              data={["as the book says", ...(lab.data?.covers ?? [])]}
              onChange={(value) => setCover(value && value !== "as the book says" ? value : "")}
            />
          )}
        </Group>
        <Group grow align="end">
          <NumberField
            label={lines.length > 1 ? "Copies of each; 0: as each says" : "Copies"}
            min={lines.length > 1 ? 0 : 1}
            max={100000}
            value={copies || (lines.length > 1 ? 0 : (files[0]?.copies ?? 1))}
            onKeep={setCopies}
          />
          <TextInput
            size="xs"
            label="Wanted by"
            maxLength={200}
            value={wish}
            onChange={(event) => setWish(event.currentTarget.value)}
          />
        </Group>
        <Textarea
          size="xs"
          label="Note to the lab"
          maxLength={1000}
          autosize
          minRows={1}
          value={note}
          onChange={(event) => setNote(event.currentTarget.value)}
        />
        <p className={`${css.note} num`}>
          {price
            ? `About ${((price.order ?? 0) + (price.page ?? 0) * pages).toFixed(2)} at the lab's prices; ${lab.data?.turnaround}.`
            : "The lab says its price once it answers."}
        </p>
        {missing.length > 0 && <p className={css.note}>Still missing: {missing.join(", ")}.</p>}
        <Answer>
          <Button type="submit" loading={order.isPending} disabled={missing.length > 0}>
            Order
          </Button>
        </Answer>
      </form>
    </Modal>
  );
}

type To = { name: string; street: string; place: string };

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
          <legend>{line} goes to</legend>
          <Group grow gap={6}>
            {(["name", "street", "place"] as const).map((field) => (
              <TextInput
                key={field}
                size="xs"
                aria-label={`${line}: ${field}`}
                placeholder={field}
                maxLength={200}
                value={to[field]}
                onChange={(event) =>
                  onChange({ ...apart, [line]: { ...to, [field]: event.currentTarget.value } })
                }
              />
            ))}
          </Group>
          <Button
            size="compact-xs"
            variant="subtle"
            onClick={() =>
              onChange(Object.fromEntries(Object.entries(apart).filter(([key]) => key !== line)))
            }
          >
            With the rest
          </Button>
        </fieldset>
      ))}
      {rest.length > 1 && (
        <Select
          size="xs"
          label="Sent elsewhere than the rest"
          placeholder="None"
          searchable
          value={null}
          data={rest}
          onChange={(line) => line && onChange({ ...apart, [line]: { name: line, street: "", place: "" } })}
        />
      )}
    </>
  );
}
