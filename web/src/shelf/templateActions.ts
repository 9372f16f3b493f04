/** What can be done with a template: altered in the workshop, saved as a file, archived. */
import { useLocation } from "wouter";
import { answer, api, type TemplateCard } from "../api/client";
import { client } from "../api/queries";
import { type Action, saveFile } from "../ui/actions";
import { complain } from "../ui/complain";
import { t } from "../words";

/** Actions of a design: what marks it holds for all of its sizes, a new template is made of the one that is named. */
export function useTemplateActions(sizes: TemplateCard[], sizeOf: (one: TemplateCard) => string): Action[] {
  const template = sizes[0] as TemplateCard;
  const [, go] = useLocation();
  const open = async (one: TemplateCard, revise: boolean) => {
    try {
      const name = revise ? one.name : `${one.name}, edited`.slice(0, 120);
      const { id } = await answer<{ id: string }>(
        api.POST("/api/workshop", { body: { name, template: one.id, revise } }),
      );
      go(`/jobs/${id}/workshop`);
    } catch (error) {
      complain(error);
    }
  };
  type Call = Promise<{ data?: unknown; error?: unknown; response?: Response }>;
  const mark = async (call: (place: { params: { path: { template: string } } }) => Call) => {
    try {
      for (const { id } of sizes) await answer(call({ params: { path: { template: id } } }));
    } catch (error) {
      complain(error);
    }
    client.invalidateQueries({ queryKey: ["templates"] });
  };
  const archived = "/api/templates/{template}/archived";
  const favourite = "/api/templates/{template}/favourite";
  const each = (label: string) =>
    sizes.map((one) => [one, sizes.length > 1 ? `${label}, ${sizeOf(one)}` : label] as const);
  return [
    ...(template.own ? [{ label: t("Edit (saves a new revision)"), run: () => open(template, true) }] : []),
    ...each(t("New template from this")).map(([one, label]) => ({ label, run: () => open(one, false) })),
    ...each(t("Save as file")).map(([one, label]) => saveFile(label, `/api/templates/${one.id}/file`)),
    {
      label: template.favourite ? t("Remove from favourites") : t("Add to favourites"),
      run: () =>
        mark((place) => (template.favourite ? api.DELETE(favourite, place) : api.PUT(favourite, place))),
    },
    {
      label: template.archived ? t("Return to shelf") : t("Archive"),
      run: () =>
        mark((place) => (template.archived ? api.DELETE(archived, place) : api.PUT(archived, place))),
    },
  ];
}
