import { ActionIcon, Popover, Tooltip } from "@mantine/core";
import IconKeyboard from "@tabler/icons-react/icons/IconKeyboard";
import { useState } from "react";
import css from "./keys.module.css";
import { useEscape } from "./useEscape";

export type KeyTable = readonly [string, readonly { shown: string; what: string }[]];

/** All keys of a screen, drawn from their tables: each a caption and its rows of key and meaning. */
export function KeysHelp({ tables }: { tables: readonly KeyTable[] }) {
  const [open, setOpen] = useState(false);
  // Escape closes it before it means anything to the screen, wherever the focus is.
  useEscape(open, () => setOpen(false));
  return (
    <Popover position="bottom-end" withArrow shadow="md" opened={open} onChange={setOpen}>
      <Popover.Target>
        <Tooltip label="Keys">
          <ActionIcon variant="default" aria-label="Keys" onClick={() => setOpen(!open)}>
            <IconKeyboard size={16} />
          </ActionIcon>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown>
        <div className={css.keys}>
          {tables.map(([caption, rows]) => (
            <table key={caption}>
              <caption>{caption}</caption>
              <tbody>
                {rows.map(({ shown, what }) => (
                  <tr key={shown + what}>
                    <th>{shown}</th>
                    <td>{what}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          ))}
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}
