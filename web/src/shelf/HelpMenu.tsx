import { version } from "virtual:manual";
import { ActionIcon, Menu } from "@mantine/core";
import IconHelp from "@tabler/icons-react/icons/IconHelp";
import { useStartTour } from "../tour/tour";
import { askFinder } from "../ui/finding";
import { MenuItems } from "../ui/MenuItems";
import { t } from "../words";

/** The tour, the manual and the finder. */
export function HelpMenu() {
  const startTour = useStartTour();
  return (
    <Menu position="bottom-end" shadow="md">
      <Menu.Target>
        <ActionIcon variant="default" size={30} aria-label={t("Help")} title={t("Help")}>
          <IconHelp size={16} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <MenuItems
          actions={[
            { label: t("Take the tour"), run: startTour },
            { label: t("Manual"), run: () => window.open("/manual", "_blank", "noreferrer") },
            { label: t("Find anything"), keys: "Ctrl K", run: askFinder },
          ]}
        />
        <Menu.Label>
          {t("Sutaru")} {version}
        </Menu.Label>
      </Menu.Dropdown>
    </Menu>
  );
}
