import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type JobState = Schemas["JobState"];
export type JobCard = Schemas["JobCard"];
export type Row = Schemas["Row"];
export type Finding = Schemas["Finding"];
export type EchoRow = Schemas["EchoRow"];
export type Opening = Schemas["Opening"];
export type Echo = Schemas["Echo"];
export type KeepArea = Schemas["KeepArea"];
export type Recipe = Schemas["Recipe"];
export type Step = NonNullable<Recipe["steps"]>[number];
export type Ranked = Schemas["Ranked"];
export type PpiCell = Schemas["PpiCell"];
export type Page = Schemas["Page"];
export type Photo = Schemas["Photo"];
export type Placement = Schemas["Placement"];
export type Text = Schemas["Text"];
export type TemplateCard = Schemas["TemplateCard"];
export type LabSheet = Schemas["LabSheet"];
export type ExportState = Schemas["ExportState"];
export type Edit = Schemas["EditRequest"]["edit"];

export const api = createClient<paths>({ baseUrl: "" });

/** A refusal by the server, in its own plain sentence. */
export class Refused extends Error {}

/** The data of an answer (the client library widens tuples, so its type is named here); throws Refused with the server's sentence. */
export async function answer<T>(call: Promise<{ data?: unknown; error?: unknown }>): Promise<T> {
  let got: { data?: unknown; error?: unknown };
  try {
    got = await call;
  } catch {
    throw new Refused("Sutaru does not answer. Start it again with: make demo.");
  }
  if (got.data === undefined) {
    const problem = got.error as { sentence?: string } | undefined;
    throw new Refused(problem?.sentence ?? "Something went wrong. Try again.");
  }
  return got.data as T;
}

export const pagePicture = (
  job: string,
  page: string,
  revision: number,
  width: number,
  notes = false,
  mending = true,
) =>
  `/api/jobs/${job}/pages/${page}/picture?revision=${revision}&width=${width}${notes ? "&notes=true" : ""}${mending ? "" : "&mending=false"}`;
export const templatePicture = (template: string, page: string, width: number) =>
  `/api/templates/${template}/pages/${page}/picture?width=${width}`;
export const thumb = (photo: { sha256: string }) => `/api/photos/${photo.sha256}/thumb`;
export const proxy = (photo: { sha256: string }) => `/api/photos/${photo.sha256}/proxy`;
