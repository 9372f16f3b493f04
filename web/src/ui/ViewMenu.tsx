import { Button, Kbd, Menu } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { t } from "../words";
import { useSurroundings } from "./surroundings";

export interface Shown {
  label: string;
  /** Its key. */
  hint?: string;
  on: boolean;
  set: (on: boolean) => void;
}

/** What is shown over a sheet, and how light it is around it. */
export function ViewMenu({ shown }: { shown: readonly Shown[] }) {
  const { isDark, setDark } = useSurroundings();
  return (
    <Menu position="bottom-end" closeOnItemClick={false}>
      <Menu.Target>
        <Button variant="default" rightSection={<IconChevronDown size={14} />}>
          {t("View")}
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {shown.map((entry) => (
          <Tick key={entry.label} {...entry} />
        ))}
        <Menu.Divider />
        <Tick label={t("Dark surroundings")} on={isDark} set={setDark} />
      </Menu.Dropdown>
    </Menu>
  );
}

function Tick({ label, hint, on, set }: Shown) {
  return (
    <Menu.CheckboxItem checked={on} onChange={set} rightSection={hint && <Kbd size="xs">{hint}</Kbd>}>
      {label}
    </Menu.CheckboxItem>
  );
}
