import { Menu } from "@mantine/core";
import { MenuItems } from "./MenuItems";
import { closeMenu, useMenuAt } from "./menuAt";

/** The menu that was asked for by a right click, where the pointer is. */
export function ContextMenu() {
  const open = useMenuAt((menu) => menu.open);
  if (!open) return null;
  return (
    <Menu
      key={`${open.x} ${open.y} ${open.label}`}
      opened
      onChange={(isOpen) => {
        if (!isOpen) closeMenu();
      }}
      returnFocus={false}
      position="bottom-start"
      offset={2}
      transitionProps={{ duration: 0 }}
    >
      <Menu.Target>
        <span
          style={{ position: "fixed", left: open.x, top: open.y, width: 0, height: 0 }}
          aria-hidden="true"
        />
      </Menu.Target>
      <Menu.Dropdown aria-label={open.label}>
        <Menu.Label>{open.label}</Menu.Label>
        <MenuItems actions={open.actions} onChosen={closeMenu} />
      </Menu.Dropdown>
    </Menu>
  );
}
