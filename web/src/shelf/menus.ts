/** Menus of the shelf, fetched once its first sight stands: what floats over a page is much script. */
import { lazy } from "react";
import { loadAfterPaint } from "../ui/loadAfterPaint";

export const JobMenu = lazy(
  loadAfterPaint(() => import("./JobMenu").then(({ JobMenu }) => ({ default: JobMenu }))),
);
export const TemplateMenu = lazy(
  loadAfterPaint(() => import("./TemplateMenu").then(({ TemplateMenu }) => ({ default: TemplateMenu }))),
);
