import { ActionIcon, Select } from "@mantine/core";
import IconTrash from "@tabler/icons-react/icons/IconTrash";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type KeptStyle, type LayoutStyle } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";
import { SaveByName } from "../ui/SaveByName";
import { t } from "../words";
import css from "./book.module.css";

const KEY = ["layout-styles"];

/** Settings of a layout under names of the studio's own: chosen, saved, deleted. */
export function Styles({ style, onChoose }: { style: LayoutStyle; onChoose: (style: LayoutStyle) => void }) {
  const { data = [] } = useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => answer<KeptStyle[]>(api.GET("/api/layout-styles", { signal })),
  });
  const [chosen, setChosen] = useState<string | null>(null);
  const shown = (all: KeptStyle[]) => client.setQueryData(KEY, all);
  const keep = useMutation({
    mutationFn: (name: string) =>
      answer<KeptStyle[]>(api.POST("/api/layout-styles", { body: { name, style } })),
    onSuccess: (all, name) => {
      shown(all);
      setChosen(name);
    },
    onError: complain,
  });
  const remove = useMutation({
    mutationFn: (name: string) =>
      answer<KeptStyle[]>(api.DELETE("/api/layout-styles/{name}", { params: { path: { name } } })),
    onSuccess: (all) => {
      shown(all);
      setChosen(null);
    },
    onError: complain,
  });
  return (
    <div className={css.styles}>
      <Select
        size="xs"
        label={t("Style")}
        placeholder={data.length ? t("custom") : t("none saved yet")}
        disabled={!data.length}
        value={data.some((one) => one.name === chosen) ? chosen : null}
        data={data.map((one) => one.name)}
        onChange={(value) => {
          setChosen(value);
          const found = data.find((one) => one.name === value);
          if (found) onChoose(found.style);
        }}
      />
      {chosen && data.some((one) => one.name === chosen) && (
        <ActionIcon
          size={30}
          variant="default"
          aria-label={t("Delete style {name}", { name: chosen })}
          onClick={() => remove.mutate(chosen)}
        >
          <IconTrash size={14} />
        </ActionIcon>
      )}
      <SaveByName
        label={t("Save style…")}
        field={t("Style name")}
        size="xs"
        position="right"
        first={chosen ?? ""}
        names={data.map((one) => one.name)}
        busy={keep.isPending}
        onSave={(name) =>
          keep.mutateAsync(name).then(
            () => true,
            () => false,
          )
        }
      />
    </div>
  );
}
