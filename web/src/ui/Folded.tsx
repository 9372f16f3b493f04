import { Button } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { lazy, Suspense } from "react";
import type { FoldedProps } from "./FoldedMenu";
import { loadAfterPaint } from "./loadAfterPaint";

const FoldedMenu = lazy(
  loadAfterPaint(() => import("./FoldedMenu").then(({ FoldedMenu }) => ({ default: FoldedMenu }))),
);

/** Controls in a row; where there is no room for them, behind a button. */
export function Folded({ when, label, size, children }: FoldedProps) {
  if (!when) return children;
  const coming = (
    <Button variant="default" size={size} rightSection={<IconChevronDown size={14} />}>
      {label}
    </Button>
  );
  return (
    <Suspense fallback={coming}>
      <FoldedMenu label={label} size={size}>
        {children}
      </FoldedMenu>
    </Suspense>
  );
}
