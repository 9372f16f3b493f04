/** The screens, each fetched when it is first opened, and all once the first one stands: a server that is lost later holds none back. */
import { lazy } from "react";
import { dialogs } from "./shelf/dialogs";
import { loadAfterPaint } from "./ui/loadAfterPaint";

const bench = () => import("./bench/Bench");
const book = () => import("./book/Turning");
const finder = () => import("./finder/Finder");
const dispatch = () => import("./dispatch/Dispatch");
const orders = () => import("./orders/Orders");
const plan = () => import("./plan/Plan");
const shelf = () => import("./shelf/Shelf");
const watched = () => import("./watched/Watched");
const workshop = () => import("./workshop/Workshop");

export const Bench = lazy(() => bench().then(({ Bench }) => ({ default: Bench })));
export const Turning = lazy(() => book().then(({ Turning }) => ({ default: Turning })));
export const Dispatch = lazy(() => dispatch().then(({ Dispatch }) => ({ default: Dispatch })));
/** Notices wait that long for what shows them: the first screen comes first. */
const NOTICES_MS = 600;
export const Notices = lazy(
  loadAfterPaint(() => import("./ui/Notices").then(({ Notices }) => ({ default: Notices })), NOTICES_MS),
);
/** What opens over a screen: the menu at the pointer, and the finder, fetched once it is asked for. */
export const ContextMenu = lazy(
  loadAfterPaint(
    () => import("./ui/ContextMenu").then(({ ContextMenu }) => ({ default: ContextMenu })),
    NOTICES_MS,
  ),
);
export const Finder = lazy(() => finder().then(({ Finder }) => ({ default: Finder })));
export const Orders = lazy(() => orders().then(({ Orders }) => ({ default: Orders })));
export const Plan = lazy(() => plan().then(({ Plan }) => ({ default: Plan })));
export const Shelf = lazy(() => shelf().then(({ Shelf }) => ({ default: Shelf })));
export const Watched = lazy(() => watched().then(({ Watched }) => ({ default: Watched })));
export const Workshop = lazy(() => workshop().then(({ Workshop }) => ({ default: Workshop })));

const AFTER_MS = 1500;

/** Fetches all screens, once the first one has had what it needs. What fails is fetched when it is opened. */
export const fetchScreens = () =>
  setTimeout(async () => {
    for (const screen of [shelf, ...dialogs, bench, dispatch, plan, workshop, book, orders, watched, finder])
      await screen().catch(() => {});
  }, AFTER_MS);
