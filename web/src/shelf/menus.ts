/** Menus of the shelf, fetched once its first sight stands: what floats over a page is much script. */
import { lazy } from "react";
import { afterPaint } from "../ui/afterPaint";

export const JobMenu = lazy(
  afterPaint(() => import("./JobMenu").then(({ JobMenu }) => ({ default: JobMenu }))),
);
export const TemplateMenu = lazy(
  afterPaint(() => import("./TemplateMenu").then(({ TemplateMenu }) => ({ default: TemplateMenu }))),
);
