import { ActionIcon, Tooltip, VisuallyHidden } from "@mantine/core";
import IconArrowBackUp from "@tabler/icons-react/icons/IconArrowBackUp";
import IconArrowForwardUp from "@tabler/icons-react/icons/IconArrowForwardUp";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { t } from "../words";
import css from "./bench.module.css";
import { HistoryButton } from "./HistoryButton";

/** Back, forth, and to any state there ever was; what was undone is said aloud. */
export function UndoRedo({ state }: { state: View }) {
  const { undo, redo } = useChange(state);
  return (
    <div className={css.undo}>
      <Tooltip label={state.undo ? t("Undo: {undo} (Ctrl Z)", { undo: state.undo }) : t("Nothing to undo")}>
        <ActionIcon variant="default" aria-label={t("Undo")} disabled={!state.undo} onClick={undo}>
          <IconArrowBackUp size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip
        label={state.redo ? t("Redo: {redo} (Ctrl Shift Z)", { redo: state.redo }) : t("Nothing to redo")}
      >
        <ActionIcon variant="default" aria-label={t("Redo")} disabled={!state.redo} onClick={redo}>
          <IconArrowForwardUp size={16} />
        </ActionIcon>
      </Tooltip>
      <HistoryButton state={state} />
      <VisuallyHidden role="status">
        {state.redo ? t("Undone: {redo}", { redo: state.redo }) : ""}
      </VisuallyHidden>
    </div>
  );
}
