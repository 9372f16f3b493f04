import { ActionIcon, Popover, Tooltip } from "@mantine/core";
import IconKeyboard from "@tabler/icons-react/icons/IconKeyboard";
import css from "./keys.module.css";

export type KeyTable = readonly [string, readonly { shown: string; what: string }[]];

/** All keys of a screen, drawn from their tables: each a caption and its rows of key and meaning. */
export function KeysHelp({ tables }: { tables: readonly KeyTable[] }) {
  return (
    <Popover position="bottom-end" withArrow shadow="md">
      <Popover.Target>
        <Tooltip label="Keys">
          <ActionIcon variant="default" aria-label="Keys">
            <IconKeyboard size={16} />
          </ActionIcon>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown>
        <div className={css.keys} data-single={tables.length === 1 || undefined}>
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
