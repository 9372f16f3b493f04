import { ActionIcon, Menu } from "@mantine/core";
import IconDots from "@tabler/icons-react/icons/IconDots";
import { useLocation } from "wouter";
import { answer, api, type TemplateCard } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";

/** What can be done with a template: altered in the workshop, saved as a file, put away. */
export function TemplateMenu({ template }: { template: TemplateCard }) {
  const [, go] = useLocation();
  const open = async (revise: boolean) => {
    try {
      const name = revise ? template.name : `${template.name}, altered`.slice(0, 120);
      const { id } = await answer<{ id: string }>(
        api.POST("/api/workshop", { body: { name, template: template.id, revise } }),
      );
      go(`/jobs/${id}/workshop`);
    } catch (error) {
      complain(error);
    }
  };
  const away = async () => {
    try {
      await answer(
        api.POST("/api/templates/{template}/away", {
          params: { path: { template: template.id }, query: { on: !template.away } },
        }),
      );
      client.invalidateQueries({ queryKey: ["templates"] });
    } catch (error) {
      complain(error);
    }
  };
  return (
    <Menu position="bottom-end" shadow="md">
      <Menu.Target>
        <ActionIcon variant="default" aria-label={`More for ${template.name}`}>
          <IconDots size={16} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {template.own && <Menu.Item onClick={() => open(true)}>Alter it: its next revision</Menu.Item>}
        <Menu.Item onClick={() => open(false)}>Make a new template from it</Menu.Item>
        <Menu.Item component="a" href={`/api/templates/${template.id}/file`}>
          Save it as a file
        </Menu.Item>
        <Menu.Item onClick={away}>{template.away ? "Bring it back to the shelf" : "Put it away"}</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
