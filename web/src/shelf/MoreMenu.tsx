import { ActionIcon, Menu } from "@mantine/core";
import IconDots from "@tabler/icons-react/icons/IconDots";
import { useRef } from "react";
import type { Action } from "../ui/actions";
import { MenuItems } from "../ui/MenuItems";
import { t } from "../words";

/** A button that offers what can be done with a thing on the shelf. */
export function MoreMenu({
  name,
  actions,
  plain,
}: {
  name: string;
  actions: readonly Action[];
  plain?: boolean;
}) {
  const opener = useRef<HTMLButtonElement>(null);
  return (
    <Menu position="bottom-end" shadow="md">
      <Menu.Target>
        <ActionIcon
          ref={opener}
          variant={plain ? "subtle" : "default"}
          color={plain ? "gray.9" : undefined}
          aria-label={t("More for {name}", { name })}
        >
          <IconDots size={16} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {/* What is chosen finds the focus where it will give it back. */}
        <MenuItems actions={actions} onChosen={() => opener.current?.focus()} />
      </Menu.Dropdown>
    </Menu>
  );
}
