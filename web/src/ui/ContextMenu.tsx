import { Menu } from "@mantine/core";
import { MenuItems } from "./MenuItems";
import { closeMenu, useMenuAt } from "./menuAt";

const EDGE_PX = 8;

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
      // All of it is in the window, beside the pointer or over it; where it is longer than the window, it scrolls.
      middlewares={{ flip: false, shift: { mainAxis: true, crossAxis: true, padding: EDGE_PX } }}
      transitionProps={{ duration: 0 }}
    >
      <Menu.Target>
        <span
          style={{ position: "fixed", left: open.x, top: open.y, width: 0, height: 0 }}
          aria-hidden="true"
        />
      </Menu.Target>
      <Menu.Dropdown
        aria-label={open.label}
        style={{ maxHeight: `calc(100vh - ${2 * EDGE_PX}px)`, overflowY: "auto" }}
      >
        <Menu.Label>{open.label}</Menu.Label>
        <MenuItems actions={open.actions} onChosen={closeMenu} />
      </Menu.Dropdown>
    </Menu>
  );
}
