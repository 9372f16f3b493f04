/** What can be done with a template: altered in the workshop, saved as a file, archived. */
import { useLocation } from "wouter";
import { answer, api, type TemplateCard } from "../api/client";
import { client } from "../api/queries";
import { type Action, saveFile } from "../ui/actions";
import { complain } from "../ui/complain";

export function useTemplateActions(template: TemplateCard): Action[] {
  const [, go] = useLocation();
  const open = async (revise: boolean) => {
    try {
      const name = revise ? template.name : `${template.name}, edited`.slice(0, 120);
      const { id } = await answer<{ id: string }>(
        api.POST("/api/workshop", { body: { name, template: template.id, revise } }),
      );
      go(`/jobs/${id}/workshop`);
    } catch (error) {
      complain(error);
    }
  };
  const place = { params: { path: { template: template.id } } };
  const mark = async (call: Promise<{ data?: unknown; error?: unknown; response?: Response }>) => {
    try {
      await answer(call);
      client.invalidateQueries({ queryKey: ["templates"] });
    } catch (error) {
      complain(error);
    }
  };
  const archived = "/api/templates/{template}/archived";
  const favourite = "/api/templates/{template}/favourite";
  return [
    ...(template.own ? [{ label: "Edit (saves a new revision)", run: () => open(true) }] : []),
    { label: "New template from this", run: () => open(false) },
    saveFile("Save as file", `/api/templates/${template.id}/file`),
    {
      label: template.favourite ? "Remove from favourites" : "Add to favourites",
      run: () => mark(template.favourite ? api.DELETE(favourite, place) : api.PUT(favourite, place)),
    },
    {
      label: template.archived ? "Return to shelf" : "Archive",
      run: () => mark(template.archived ? api.DELETE(archived, place) : api.PUT(archived, place)),
    },
  ];
}
