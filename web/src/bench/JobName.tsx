import { Button, Popover, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import { useLabs } from "../api/queries";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { t } from "../words";
import css from "./bench.module.css";

/** The job's name; a click changes it, and the customer, the order number, the lab sheet. */
export function JobName({ state }: { state: View }) {
  const { edit } = useChange(state);
  const labs = useLabs();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [customer, setCustomer] = useState("");
  const [order, setOrder] = useState("");
  const [lab, setLab] = useState("");
  const show = () => {
    setName(state.job.name);
    setCustomer(state.job.customer);
    setOrder(state.job.order_number);
    setLab(state.lab.id);
    setOpen(true);
  };
  const keep = () => {
    if (!name.trim()) return;
    const fields = { name: name.trim(), customer: customer.trim(), order_number: order.trim() };
    const { job } = state;
    if (
      fields.name !== job.name ||
      fields.customer !== job.customer ||
      fields.order_number !== job.order_number
    )
      edit({ op: "rename", ...fields });
    const sheet = labs.data?.find((entry) => entry.id === lab);
    if (sheet && lab !== state.lab.id) edit({ op: "choose_lab", lab: sheet });
    setOpen(false);
  };
  return (
    <Popover
      opened={open}
      onChange={setOpen}
      position="bottom-start"
      withArrow
      shadow="md"
      trapFocus
      returnFocus
    >
      <h1 className="heading">
        <Popover.Target>
          <button
            type="button"
            className={css.name}
            title={
              state.job.making
                ? t("Change name and lab sheet")
                : t("Change name, customer, order number and lab sheet")
            }
            onClick={show}
          >
            {state.job.name}
          </button>
        </Popover.Target>
      </h1>
      <Popover.Dropdown>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            keep();
          }}
        >
          <TextInput
            size="xs"
            label={state.job.making ? t("Name of the template") : t("Job name")}
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          {!state.job.making && (
            <>
              <TextInput
                size="xs"
                label={t("Customer")}
                maxLength={120}
                value={customer}
                onChange={(event) => setCustomer(event.currentTarget.value)}
              />
              <TextInput
                size="xs"
                label={t("Order number")}
                maxLength={60}
                value={order}
                onChange={(event) => setOrder(event.currentTarget.value)}
              />
            </>
          )}
          <Select
            size="xs"
            label={t("Lab sheet")}
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            value={lab}
            onChange={(value) => setLab(value ?? "")}
            data={(labs.data ?? []).map((entry) => ({
              value: entry.id,
              label: `${entry.name}, ${entry.lab}`,
            }))}
          />
          <Button type="submit" mt={8} disabled={!name.trim()}>
            {t("Save")}
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}
