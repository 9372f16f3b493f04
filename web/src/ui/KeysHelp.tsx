import { ActionIcon, Popover, Tooltip } from "@mantine/core";
import { useWindowEvent } from "@mantine/hooks";
import IconKeyboard from "@tabler/icons-react/icons/IconKeyboard";
import { useState } from "react";
import { t } from "../words";
import { isTyping } from "./keys";
import css from "./keys.module.css";
import { useEscape } from "./useEscape";

export type KeyTable = readonly [string, readonly { shown: string; what: string }[]];

/** All keys of a screen, drawn from their tables: each a caption and its rows of key and meaning. And the page of the manual that belongs to it. */
export function KeysHelp({ tables, manual }: { tables: readonly KeyTable[]; manual: string }) {
  const [open, setOpen] = useState(false);
  // Escape closes it before it means anything to the screen, wherever the focus is.
  useEscape(open, () => setOpen(false));
  useWindowEvent("keydown", (event) => {
    if (event.key === "?" && !isTyping(event.target)) setOpen(true);
  });
  return (
    <Popover position="bottom-end" withArrow shadow="md" opened={open} onChange={setOpen}>
      <Popover.Target>
        <Tooltip label={t("Keys (?)")}>
          <ActionIcon variant="default" aria-label={t("Keys")} onClick={() => setOpen(!open)}>
            <IconKeyboard size={16} />
          </ActionIcon>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown>
        <p className={css.more}>
          <a href={`/manual#${manual}`} target="_blank" rel="noreferrer">
            {t("Manual")}
          </a>{" "}
          {t("· Ctrl K finds anything by a few letters")}
        </p>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is reached by keys */}
        <section className={css.scroll} tabIndex={0} aria-label={t("Keys of this screen")}>
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
        </section>
      </Popover.Dropdown>
    </Popover>
  );
}
