import { Modal, type ModalProps } from "@mantine/core";
import { t } from "../words";
import { useBehind } from "./useBehind";
import { useFocusBack } from "./useFocusBack";

/** A dialog, there as long as it is open. When it goes, the focus is where it was before it came. */
export function Dialog(props: Omit<ModalProps, "opened">) {
  useFocusBack();
  useBehind();
  return <Modal opened closeButtonProps={{ "aria-label": t("Close") }} {...props} />;
}
