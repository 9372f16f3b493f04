import { ActionIcon, Tooltip } from "@mantine/core";
import IconZoomIn from "@tabler/icons-react/icons/IconZoomIn";
import IconZoomOut from "@tabler/icons-react/icons/IconZoomOut";
import { heldView, LEAST_VIEW, MOST_VIEW } from "../editing/store";
import { t } from "../words";

/** Makes the view of a sheet smaller or larger. */
export function ViewButtons({ view, onView }: { view: number; onView: (view: number) => void }) {
  return (
    <>
      <Tooltip label={t("Smaller view (Ctrl −)")}>
        <ActionIcon
          variant="default"
          aria-label={t("Smaller view")}
          disabled={view <= LEAST_VIEW}
          onClick={() => onView(heldView(view / 1.5))}
        >
          <IconZoomOut size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={t("Larger view (Ctrl +)")}>
        <ActionIcon
          variant="default"
          aria-label={t("Larger view")}
          disabled={view >= MOST_VIEW}
          onClick={() => onView(heldView(view * 1.5))}
        >
          <IconZoomIn size={16} />
        </ActionIcon>
      </Tooltip>
    </>
  );
}
