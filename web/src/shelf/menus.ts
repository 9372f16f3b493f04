/** The menu buttons of the shelf, fetched once its first sight stands: what floats over a page is much script. */
import { lazy } from "react";
import { loadAfterPaint } from "../ui/loadAfterPaint";

export const MoreMenu = lazy(
  loadAfterPaint(() => import("./MoreMenu").then(({ MoreMenu }) => ({ default: MoreMenu }))),
);
export const HelpMenu = lazy(
  loadAfterPaint(() => import("./HelpMenu").then(({ HelpMenu }) => ({ default: HelpMenu }))),
);
