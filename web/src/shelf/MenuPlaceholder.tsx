import { ActionIcon } from "@mantine/core";
import IconDots from "@tabler/icons-react/icons/IconDots";

/** Stands where a menu will, until it has come. */
export const MenuPlaceholder = () => (
  <ActionIcon variant="subtle" color="gray.9" aria-hidden="true" tabIndex={-1}>
    <IconDots size={16} />
  </ActionIcon>
);
