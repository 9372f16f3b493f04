import { Kbd, Menu } from "@mantine/core";
import { Fragment } from "react";
import type { Action } from "./actions";

/** The entries of a menu, each with its key. */
export function MenuItems({ actions, onChosen }: { actions: readonly Action[]; onChosen?: () => void }) {
  return actions.map((action, n) => {
    const same = { disabled: action.isOff, rightSection: action.keys && <Kbd size="xs">{action.keys}</Kbd> };
    return (
      <Fragment key={action.label}>
        {action.starts && n > 0 && <Menu.Divider />}
        {action.href ? (
          <Menu.Item component="a" href={action.href} onClick={onChosen} {...same}>
            {action.label}
          </Menu.Item>
        ) : (
          <Menu.Item
            onClick={() => {
              onChosen?.();
              action.run();
            }}
            {...same}
          >
            {action.label}
          </Menu.Item>
        )}
      </Fragment>
    );
  });
}
