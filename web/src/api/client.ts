/** The server's API: types, calls, and what can go wrong with them. */
import createClient from "openapi-fetch";
import { t } from "../words";
import type { components } from "./schema";
import type { paths, components as Sending } from "./sending";

type Schemas = components["schemas"];
export type JobHead = Schemas["JobHead"];
export type JobCard = Schemas["JobCard"];
export type JobList = Schemas["JobList"];
export type PartsOf = Schemas["PartsOf"];
export type SheetMark = Schemas["SheetMark"];
export type StoredSheet = Schemas["StoredSheet"];
export type StoredEdition = Schemas["StoredEdition"];
export type HistoryState = Schemas["HistoryState"];
export type TaskState = Schemas["TaskState"];
export type Layout = Schemas["Layout"];
export type Filling = Schemas["Filling"];
export type Measured = Schemas["Measured"];
export type Places = Schemas["Places"];
/** A row of the ledger: where an opening lies, and what was measured of the photo in it. */
export type Row = Schemas["OpeningPlace"] & Schemas["Row"];
export type Compared = Schemas["Compared"];
export type Finding = Schemas["Finding"];
export type VariantSheets = Schemas["VariantSheets"];
export type Report = Schemas["Report"];
export type KeptStyle = Schemas["KeptStyle"];
export type LayoutStyle = Schemas["LayoutStyle"];
export type ProofLinkState = Schemas["ProofLinkState"];
export type PrinterState = Schemas["PrinterState"];
export type PrintRequest = Schemas["PrintRequest"];
export type PrintJob = Schemas["PrintJob"];
export type EchoPlace = Schemas["EchoPlace"];
export type Opening = Schemas["Opening"];
export type Echo = Schemas["Echo"];
export type KeepArea = Schemas["KeepArea"];
export type Recipe = Schemas["Recipe"];
export type Step = NonNullable<Recipe["steps"]>[number];
export type Retouching = Schemas["Retouching"];
export type Touch = NonNullable<Retouching["touches"]>[number];
export type KeptRecipe = Schemas["KeptRecipe"];
export type Upright = Schemas["Upright"];
export type Ranked = Schemas["Ranked"];
export type PpiCell = Schemas["PpiCell"];
export type Photo = Schemas["Photo"];
export type Placement = Schemas["Placement"];
export type Text = Schemas["Text"];
export type DateGrid = Schemas["DateGrid"];
export type Dated = Schemas["Dated"];
export type DatesRead = Schemas["DatesRead"];
export type Country = Schemas["Country"];
export type TextStyle = Schemas["TextStyle"];
export type FontFamily = Schemas["FontFamily"];
export type LocaleName = Schemas["LocaleName"];
export type TemplateCard = Schemas["TemplateCard"];
export type PickedArea = Schemas["PickedArea"];
export type OrnamentPiece = Schemas["OrnamentPiece"];
export type StudioCard = Schemas["StudioCard"];
export type ReadFile = Schemas["ReadFile"];
export type Kept = Schemas["Kept"];
export type LabSheet = Schemas["LabSheet"];
export type AssetKept = Schemas["AssetKept"];
export type Theme = Schemas["Theme"];
export type Background = Schemas["Background"];
export type SeenBook = Schemas["SeenBook"];
export type SeenSheet = Schemas["SeenSheet"];
export type Wishes = Schemas["Wishes"];
export type LayoutChoice = Schemas["LayoutChoice"];
export type Folding = Schemas["Folding"];
export type FoldedJob = Schemas["FoldedJob"];
export type FoldKind = Schemas["FoldKind"];
export type ListRead = Schemas["ListRead"];
export type Meaning = Schemas["Meaning"];
export type RowDone = Schemas["RowDone"];
export type PrintWish = Schemas["PrintWish"];
export type OrderState = Schemas["OrderState"];
export type NewOrder = Schemas["NewOrder"];
export type LabSays = Schemas["LabSays"];
export type WatchedFolders = Schemas["Watched"];
export type WatchedFolder = Schemas["WatchedFolder"];
export type TakenFolder = Schemas["Taken"];
export type FolderRule = Schemas["Rule"];
export type FileNames = Schemas["FileNames"];
export type PressFacts = Schemas["PressFacts"];
export type Figures = Schemas["Figures"];
export type Panel = Schemas["Panel"];
export type Remark = Schemas["Remark"];
/** An edit as it is sent: what has a default may be left out. */
export type Edit = Sending["schemas"]["EditRequest"]["edit"];
/** An edit as it is stored, with every default in it. */
export type StoredEdit = Schemas["EditRequest"]["edit"];
export type Product = Schemas["TemplateCard"]["product"];
/** A layer as it is sent: what has a default may be left out. */
export type NewLayer = Sending["schemas"]["AddLayers"]["layers"][number];

export const api = createClient<paths>({ baseUrl: "", fetch: (request) => fetch(request) });

/** A refusal by the server, in its own plain sentence: asking again would change nothing. */
export class Refused extends Error {}
/** No answer, or no room: the same call may go through later. */
export class Lost extends Error {}
/** The server wants a passphrase first. What was asked waits until it is given. */
export class Locked extends Lost {}

const SILENT = t("Sutaru does not answer.");
let locked = () => {};
/** What is done when the server wants a passphrase. */
export const whenLocked = (then: () => void) => {
  locked = then;
};

/** Says that the server wants a passphrase, where an answer is not read by ``answer``. */
export const lock = () => locked();

/** The data of an answer (the client library widens tuples, so its type is named here). Throws Refused, Lost or Locked; AbortError when its signal was given. */
export async function answer<T>(
  call: Promise<{ data?: unknown; error?: unknown; response?: Response }>,
): Promise<T> {
  let got: { data?: unknown; error?: unknown; response?: Response };
  try {
    got = await call;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Lost(SILENT);
  }
  const status = got.response?.status ?? 200;
  if (got.error === undefined && status < 400) return got.data as T;
  const sentence = (got.error as { sentence?: string } | undefined)?.sentence;
  if (status === 401) {
    locked();
    throw new Locked(sentence ?? t("The passphrase is needed."));
  }
  if (status >= 502) throw new Lost(sentence ?? SILENT);
  throw new Refused(sentence ?? t("Something went wrong. Try again."));
}

/** A call that the API's description does not type: a file sent as it is, or a plain fetch. */
export async function sent<T>(path: string, body: BodyInit, signal?: AbortSignal): Promise<T> {
  return answer<T>(
    fetch(path, { method: "POST", body, signal }).then(async (response) => {
      const body = await response.json().catch(() => undefined);
      return response.ok ? { data: body, response } : { error: body ?? {}, response };
    }),
  );
}

/** A sheet's picture by the key of all that decides how it looks: never another picture under the same address. */
export const sheetPicture = (key: string, width: number, notes = false, mending = true, proof?: string) =>
  `/api/drawn/${key}/picture?width=${width}${notes ? "&notes=true" : ""}${mending ? "" : "&mending=false"}${
    proof ? `&proof=${proof}` : ""
  }`;
export const coverPicture = (job: Pick<JobCard, "id" | "picture">, width: number) =>
  `/api/jobs/${job.id}/cover/${job.picture}?width=${width}`;
export const templatePicture = (template: TemplateCard, sheet: string, width: number) =>
  `/api/templates/${template.id}/sheets/${sheet}/picture?width=${width}&revision=${template.revision ?? 1}`;
export const themePicture = (theme: string, index: number, width: number) =>
  `/api/themes/${theme}/picture?at=${index}&width=${width}`;
export const thumb = (photo: { checksum: string }) => `/api/photos/${photo.checksum}/thumb`;
export const proxy = (photo: { checksum: string }) => `/api/photos/${photo.checksum}/proxy`;

/** Asks for a sheet's picture as an edit would make it: the address of a blob, to be let go of. Throws as ``answer``. */
export async function previewOf(
  job: string,
  sheet: string,
  edit: Edit,
  width: number,
  { edition = "", signal }: { edition?: string; signal?: AbortSignal } = {},
): Promise<string> {
  const blob = await answer<Blob>(
    fetch(`/api/jobs/${job}/sheets/${sheet}/preview`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ edit, edition, width }),
      signal,
    }).then(async (response) =>
      response.ok ? { data: await response.blob(), response } : { error: await response.json(), response },
    ),
  );
  return URL.createObjectURL(blob);
}
