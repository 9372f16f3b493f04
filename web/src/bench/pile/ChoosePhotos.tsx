import { Button, type ButtonProps } from "@mantine/core";
import IconFolder from "@tabler/icons-react/icons/IconFolder";
import IconPhotoPlus from "@tabler/icons-react/icons/IconPhotoPlus";
import { useRef } from "react";

/** A button that asks for photos, or for a folder of them. */
export function ChoosePhotos({
  label,
  isFolder,
  onFiles,
  ...props
}: Omit<ButtonProps, "onClick"> & { label: string; isFolder?: boolean; onFiles: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const Icon = isFolder ? IconFolder : IconPhotoPlus;
  return (
    <>
      <input
        ref={input}
        data-testid={isFolder ? "choose-folder" : "choose-photos"}
        type="file"
        hidden
        {...(isFolder
          ? { webkitdirectory: "" }
          : { multiple: true, accept: "image/*,.heic,.heif,.tif,.tiff" })}
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])].filter((file) => !file.name.startsWith(".")));
          event.target.value = "";
        }}
      />
      <Button
        variant="default"
        leftSection={<Icon size={15} />}
        {...props}
        onClick={() => input.current?.click()}
      >
        {label}
      </Button>
    </>
  );
}
