import { t } from "../words";
/** What a rule can say, in words. */
export const FILLS = [
  { value: "best", label: t("where they fit best") },
  { value: "order", label: t("in order, as they are called") },
] as const;

export const FORMATS = [
  { value: "jpeg", label: "JPEG" },
  { value: "png", label: "PNG" },
  { value: "tiff", label: "TIFF" },
  { value: "pdf", label: "PDF" },
] as const;
