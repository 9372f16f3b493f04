import { ActionIcon, Button, Popover } from "@mantine/core";
import IconTrash from "@tabler/icons-react/icons/IconTrash";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answer, api, type KeptRecipe, type Step } from "../../api/client";
import { client } from "../../api/queries";
import { flush } from "../../editing/flushing";
import { complain } from "../../ui/complain";
import { SaveByName } from "../../ui/SaveByName";
import { t } from "../../words";
import css from "../side.module.css";

const KEY = ["recipes"];

/** Recipes of tone, each seen on this photo: those that the studio keeps and those that ship; kept from what is mended here, or laid on many photos. */
export function Recipes({
  steps,
  pictureWith,
  onLay,
  onLayOnAll,
}: {
  steps: Step[];
  /** A small picture of the photo with other steps. */
  pictureWith: (steps: Step[]) => string;
  onLay: (steps: Step[]) => void;
  onLayOnAll: () => void;
}) {
  const { data = [] } = useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => answer<KeptRecipe[]>(api.GET("/api/recipes", { signal })),
  });
  const looks = useQuery({
    queryKey: ["looks"],
    queryFn: ({ signal }) => answer<KeptRecipe[]>(api.GET("/api/looks", { signal })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const isKept = (one: KeptRecipe) => data.some(({ name }) => name.toLowerCase() === one.name.toLowerCase());
  const all = [
    ...data.map((recipe) => ({ recipe, kept: true })),
    ...(looks.data ?? []).filter((one) => !isKept(one)).map((recipe) => ({ recipe, kept: false })),
  ];
  const shown = (all: KeptRecipe[]) => client.setQueryData(KEY, all);
  const latest = useRef(steps);
  latest.current = steps;
  const [open, setOpen] = useState(false);
  const keep = useMutation({
    mutationFn: async (name: string) => {
      flush(); // what was typed a moment ago is part of it
      await new Promise(requestAnimationFrame);
      return answer<KeptRecipe[]>(api.POST("/api/recipes", { body: { name, steps: latest.current } }));
    },
    onSuccess: shown,
    onError: complain,
  });
  const remove = useMutation({
    mutationFn: (name: string) =>
      answer<KeptRecipe[]>(api.DELETE("/api/recipes/{name}", { params: { path: { name } } })),
    onSuccess: shown,
    onError: complain,
  });
  return (
    <div className={css.tools}>
      <Popover opened={open} onChange={setOpen} trapFocus position="left-end" width={376} shadow="md">
        <Popover.Target>
          <Button size="compact-xs" variant="default" onClick={() => setOpen(!open)}>
            {t("Recipes")}
          </Button>
        </Popover.Target>
        <Popover.Dropdown p={10}>
          {open && (
            <ul className={css.looks} aria-label={t("Recipes")}>
              {all.map(({ recipe, kept }) => (
                <li key={`${kept} ${recipe.name}`}>
                  <button
                    type="button"
                    onClick={() => {
                      onLay(recipe.steps);
                      setOpen(false);
                    }}
                  >
                    <img src={pictureWith(recipe.steps)} alt="" loading="lazy" width={84} height={60} />
                    <span>{recipe.name}</span>
                  </button>
                  {kept && (
                    <ActionIcon
                      size={24}
                      variant="default"
                      aria-label={t("Delete recipe {name}", { name: recipe.name })}
                      onClick={() => remove.mutate(recipe.name)}
                    >
                      <IconTrash size={14} />
                    </ActionIcon>
                  )}
                </li>
              ))}
            </ul>
          )}
        </Popover.Dropdown>
      </Popover>
      <SaveByName
        label={t("Save as recipe")}
        field={t("Recipe name")}
        size="compact-xs"
        names={data.map((recipe) => recipe.name)}
        disabled={!steps.length}
        busy={keep.isPending}
        onSave={(name) =>
          keep.mutateAsync(name).then(
            () => true,
            () => false,
          )
        }
      />
      <Button size="compact-xs" variant="default" disabled={!steps.length} onClick={onLayOnAll}>
        {t("Apply to all photos of this sheet")}
      </Button>
    </div>
  );
}
