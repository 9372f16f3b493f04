import { Button, type ButtonProps, Popover } from "@mantine/core";
import { useWindowEvent } from "@mantine/hooks";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { type ReactNode, useRef, useState } from "react";
import css from "./folded.module.css";

export interface FoldedProps {
  /** Whether there is no room for them. */
  when: boolean | undefined;
  label: string;
  size?: ButtonProps["size"];
  children: ReactNode;
}

const CAPTURE = { capture: true };

type Props = Omit<FoldedProps, "when">;

/** Controls behind a button. */
export function FoldedMenu({ label, size, children }: Props) {
  const [open, setOpen] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  useWindowEvent(
    "pointerdown",
    ({ target }) => {
      const on = open && target instanceof Element ? target : undefined;
      // Lists and dialogs that its controls open stand elsewhere in the page.
      if (on && !box.current?.contains(on) && !opener.current?.contains(on) && !on.closest("[data-portal]"))
        setOpen(false);
    },
    CAPTURE,
  );
  return (
    <Popover
      opened={open}
      onChange={setOpen}
      closeOnClickOutside={false}
      keepMounted
      trapFocus
      returnFocus
      withinPortal={false}
      position="bottom-end"
      shadow="md"
    >
      <Popover.Target>
        <Button
          ref={opener}
          variant="default"
          size={size}
          rightSection={<IconChevronDown size={14} />}
          onClick={() => setOpen(!open)}
        >
          {label}
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <div className={css.folded} ref={box}>
          {children}
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}
