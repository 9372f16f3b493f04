import { FileButton, type FileButtonProps } from "@mantine/core";
import { useRef } from "react";

interface Props {
  accept: string;
  onFile: (file: File) => void;
  children: FileButtonProps<false>["children"];
}

/** A button that asks for a file. The same one may be chosen again: it may have been mended meanwhile. */
export function ChooseFile({ accept, onFile, children }: Props) {
  const reset = useRef<() => void>(null);
  return (
    <FileButton
      resetRef={reset}
      accept={accept}
      onChange={(file) => {
        reset.current?.();
        if (file) onFile(file);
      }}
    >
      {children}
    </FileButton>
  );
}
