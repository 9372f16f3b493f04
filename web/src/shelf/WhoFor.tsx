import { Group, TextInput } from "@mantine/core";
import { t } from "../words";

export interface Who {
  name: string;
  customer: string;
  order_number: string;
}

export const NOBODY: Who = { name: "", customer: "", order_number: "" };

/** What a job is to be called, who it is for and its number: asked the same way wherever one begins. */
export function WhoFor({
  who,
  onChange,
  label = t("Job name"),
  description,
}: {
  who: Who;
  onChange: (who: Who) => void;
  label?: string;
  description?: string;
}) {
  const field = (name: keyof Who, more: { label: string; maxLength: number }) => ({
    ...more,
    size: "xs",
    value: who[name],
    onChange: (event: { currentTarget: HTMLInputElement }) =>
      onChange({ ...who, [name]: event.currentTarget.value }),
  });
  return (
    <>
      <TextInput
        {...field("name", { label, maxLength: 120 })}
        description={description}
        data-autofocus
        required
      />
      <Group grow>
        <TextInput {...field("customer", { label: t("Customer"), maxLength: 120 })} />
        <TextInput {...field("order_number", { label: t("Order number"), maxLength: 60 })} />
      </Group>
    </>
  );
}

/** As it is kept: without spaces about it. */
export const asKept = (who: Who): Who => ({
  name: who.name.trim(),
  customer: who.customer.trim(),
  order_number: who.order_number.trim(),
});
