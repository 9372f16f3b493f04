/** Dialogs of the shelf, each fetched as it is first opened, or with the screens once the shelf stands. */
import { lazy } from "react";

const book = () => import("../book/NewBook");
const card = () => import("../card/NewCard");
const job = () => import("./NewJob");
const keepFrom = () => import("../templates/KeepFrom");
const jobFrom = () => import("./NewJobFrom");
const template = () => import("./NewTemplate");
const studioCard = () => import("./StudioCardDialog");

export const NewBook = lazy(() => book().then(({ NewBook }) => ({ default: NewBook })));
export const NewCard = lazy(() => card().then(({ NewCard }) => ({ default: NewCard })));
export const NewJob = lazy(() => job().then(({ NewJob }) => ({ default: NewJob })));
export const KeepFrom = lazy(() => keepFrom().then(({ KeepFrom }) => ({ default: KeepFrom })));
export const NewJobFrom = lazy(() => jobFrom().then(({ NewJobFrom }) => ({ default: NewJobFrom })));
export const NewTemplate = lazy(() => template().then(({ NewTemplate }) => ({ default: NewTemplate })));
export const StudioCardDialog = lazy(() =>
  studioCard().then(({ StudioCardDialog }) => ({ default: StudioCardDialog })),
);

export const dialogs = [job, jobFrom, template, book, card, studioCard, keepFrom];
