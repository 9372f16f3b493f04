import { ActionIcon, Tooltip, VisuallyHidden } from "@mantine/core";
import IconArrowBackUp from "@tabler/icons-react/icons/IconArrowBackUp";
import IconArrowForwardUp from "@tabler/icons-react/icons/IconArrowForwardUp";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import css from "./bench.module.css";
import { HistoryButton } from "./HistoryButton";

/** Back, forth, and to any state there ever was; what was undone is said aloud. */
export function UndoRedo({ state }: { state: View }) {
  const { undo, redo } = useChange(state);
  return (
    <div className={css.undo}>
      <Tooltip label={state.undo ? `Undo: ${state.undo} (Ctrl Z)` : "Nothing to undo"}>
        <ActionIcon variant="default" aria-label="Undo" disabled={!state.undo} onClick={undo}>
          <IconArrowBackUp size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={state.redo ? `Redo: ${state.redo} (Ctrl Shift Z)` : "Nothing to redo"}>
        <ActionIcon variant="default" aria-label="Redo" disabled={!state.redo} onClick={redo}>
          <IconArrowForwardUp size={16} />
        </ActionIcon>
      </Tooltip>
      <HistoryButton state={state} />
      <VisuallyHidden role="status">{state.redo ? `Undone: ${state.redo}` : ""}</VisuallyHidden>
    </div>
  );
}
