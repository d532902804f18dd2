import createClient, { type Middleware } from "openapi-fetch";
import { ask } from "./line";
import type { components, paths } from "./schema.gen";

export type Shape = components["schemas"];
export type Project = Shape["Project"];
export type Station = Shape["Station"];
export type Survey = Shape["Survey"];
export type Reading = NonNullable<Survey["readings"]>[number];
export type Guard = Shape["Guard"];
/** One thing found on the floor, as the project file has it. */
export type FileRecord = NonNullable<Project["records"]>[number];
export type StationView = Shape["StationView"];
export type Finding = Shape["FindingOut"];

/** A refusal by the server, or the server not answering. `code` is what programs look at. */
export class Refused extends Error {
  code: string;
  path: string;
  values: Record<string, unknown>;
  body: unknown;
  /** The answer's HTTP status; 0 where there was none. */
  status: number;

  constructor(
    code: string,
    detail: string,
    path = "",
    values: Record<string, unknown> = {},
    body: unknown = null,
    status = 0,
  ) {
    super(detail);
    this.code = code;
    this.path = path;
    this.values = values;
    this.body = body;
    this.status = status;
  }
}

export const OFFLINE = "offline";
export const SIGNED_OUT = "signed_out";

/** A page that was open too long: its token is fetched anew, and what it asked is asked again. */
export const FORGED = "forged";

/** Whether what was refused may be taken the next time: no line, signed out, too many at once, or the machine's own trouble. */
export const mayPass = (refused: Refused) =>
  refused.code === OFFLINE ||
  refused.code === SIGNED_OUT ||
  refused.code === FORGED ||
  refused.status === 429 ||
  refused.status >= 500;

/** Whether a refusal is about what was drawn, and not about the server, the line or who is signed in. */
export const isOfTheJob = (refused: Refused) =>
  refused.code.startsWith("linkage") ||
  refused.code === "document_refused" ||
  refused.code === "engine_error";

function token(): string {
  return /(?:^|; )csrftoken=([^;]*)/.exec(document.cookie)?.[1] ?? "";
}

const forgeryToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", token());
    return request;
  },
};

export const client = createClient<paths>({ baseUrl: "/", credentials: "same-origin", fetch: ask });
client.use(forgeryToken);

export interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Return what a call answers, or throw Refused with the server's own sentence. */
export async function answer<T>(call: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>;
  try {
    got = await call;
  } catch {
    throw new Refused(
      OFFLINE,
      "The server does not answer. What you entered is kept in this browser; it goes on when the server is back.",
    );
  }
  if (got.response.ok) return got.data as T;
  const error = got.error as Partial<Shape["Refusal"]> | undefined;
  if (error && typeof error === "object" && typeof error.detail === "string") {
    // A failure has a number, which finds it in the shop's log.
    const number = got.response.status >= 500 && error.values?.request;
    const detail = number ? `${error.detail} (Request ${number}.)` : error.detail;
    const { code = "refused", path = "", values = {} } = error;
    throw new Refused(code, detail, path, values, error, got.response.status);
  }
  throw new Refused(
    "server_error",
    `The server failed (${got.response.status}). What you entered is kept; try again.`,
    "",
    {},
    null,
    got.response.status,
  );
}

/** Send a file as it is; the server reads and judges it. */
function send<T>(path: string, kind: string, body: Blob): Promise<T> {
  return answer(
    fetch(path, { method: "POST", headers: { "Content-Type": kind, "X-CSRFToken": token() }, body }).then(
      async (response) => {
        const said: unknown = await response.json().catch(() => null);
        return response.ok ? { data: said as T, response } : { error: said, response };
      },
    ),
  );
}

/** Take a project file in as a new job. */
export const importProject = (text: Blob, started = "") =>
  send<Shape["JobLine"]>(
    `/api/jobs/import${started ? `?started=${encodeURIComponent(started)}` : ""}`,
    "application/json",
    text,
  );

/** Read a table of readings, checked but not stored. */
export const readReadings = (table: Blob) =>
  send<Shape["ReadIn"]>("/api/survey/readings-in", "text/csv", table);

/** Take a table of records into a job; nothing of it is stored where a row is none. */
export const takeRecords = (job: string, table: Blob) =>
  send<Shape["TakenIn"]>(`/api/jobs/${job}/records.csv`, "text/csv", table);

/** Keep a picture with a job. */
export const keepPhotograph = (job: string, picture: File) =>
  send<Shape["PhotographOut"]>(
    `/api/jobs/${job}/photographs?name=${encodeURIComponent(picture.name.replace(/\.\w+$/, ""))}`,
    picture.type || "image/jpeg",
    picture,
  );

/** Keep a picture as the shop's mark. */
export const keepMark = (picture: Blob) =>
  send<Shape["ShopOut"]>("/api/people/shop/mark", picture.type || "image/png", picture);

/** Take a table of parts onto the shelf. */
export const takeShelf = (table: Blob) => send<Shape["Taken"]>("/api/parts/shelf.csv", "text/csv", table);
