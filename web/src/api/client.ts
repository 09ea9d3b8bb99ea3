import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

/** What a failed request says: every problem with its place, cause and mend. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
  ) {
    super(problems.map((problem) => `${problem.what} ${problem.mend}`).join(" "));
  }
}

const token: Middleware = {
  onRequest({ request }) {
    const found = document.cookie.match(/csrftoken=([^;]+)/);
    if (found?.[1]) request.headers.set("X-CSRFToken", found[1]);
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: "" });
api.use(token);

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Returns what a request answers, or throws an ApiError. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await request.catch(() => {
    throw new ApiError(0, [unreachable]);
  });
  if (!response.ok) throw new ApiError(response.status, problemsIn(error));
  return data as T;
}

const TRY_AGAIN = [0, 502, 503, 504];

/** Whether an error means that the same request may do in a moment. */
export function mayDoSoon(error: unknown): boolean {
  return error instanceof ApiError && TRY_AGAIN.includes(error.status);
}

/** Whether the server or its database is away for a moment, and not only busy with others' pulses. */
export function isAway(error: unknown): boolean {
  return mayDoSoon(error) && error instanceof ApiError && error.problems[0]?.where !== "pulse";
}

const unreachable: Problem = {
  where: "server",
  what: "The server does not answer.",
  mend: "Check the connection; what you typed is kept.",
  level: "error",
};

export function problemsIn(body: unknown): Problem[] {
  if (typeof body === "object" && body !== null && "problems" in body && Array.isArray(body.problems)) {
    return body.problems as Problem[];
  }
  return [{ where: "server", what: "The server could not do it.", mend: "Try again in a moment.", level: "error" }];
}
