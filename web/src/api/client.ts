import createClient from "openapi-fetch";
import { say } from "../language/say";
import { fetchEarly } from "./early";
import { hearOfEnd } from "./ending";
import { answered, ask } from "./held";
import { came, failed, lost, sent } from "./line";
import type { components, paths } from "./schema.gen";
import { hear } from "./written";

/** Any shape that the API publishes, by its name in the schema. */
export type Shape<Name extends keyof components["schemas"]> = components["schemas"][Name];

/** A sentence from the server that says what can't be done and what to do. */
export class ApiError extends Error {
	constructor(
		sentence: string,
		readonly status: number,
	) {
		super(sentence);
	}
}

const NO_ANSWER = say("The server doesn’t answer. Check that Cohortia is running; nothing typed here is lost.");

export function csrfToken(): string {
	return document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ?? "";
}

export const api = createClient<paths>({
	baseUrl: "",
	querySerializer: {},
	fetch: fetchEarly,
});

api.use({
	onRequest({ request }) {
		if (request.method === "GET") {
			ask(request);
			sent(request);
		} else request.headers.set("X-CSRFToken", csrfToken());
		return request;
	},
	onResponse({ request, response }) {
		came(request);
		hearOfEnd(response.headers);
		if (request.method === "GET") return answered(request, response);
		hear(request.url, response.headers);
	},
	onError({ request, error }) {
		failed(request, error);
		return new ApiError(NO_ANSWER, 0);
	},
});

/** The answer of a call, or an ApiError with the server's sentence. */
export async function take<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
	const { data, error, response } = await call;
	if (!response.ok) throw errorFrom(error, response.status);
	return data as T;
}

/** Save something and have it on its way before this returns: the typed client waits a turn, in which the page is drawn.
 * ``byHand``: names of what the answer is put into by hand, rather than read again. */
export async function saveAtOnce<T>(path: string, body: unknown, byHand: string[]): Promise<T> {
	const request = new Request(path, {
		method: "POST",
		body: JSON.stringify(body),
		headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
	});
	const response = await fetch(request).catch((error: unknown) => {
		failed(request, error);
		throw new ApiError(NO_ANSWER, 0);
	});
	came(request);
	hearOfEnd(response.headers);
	const said: unknown = await response.json().catch(() => null);
	if (!response.ok) throw errorFrom(said, response.status);
	hear(path, response.headers, byHand);
	return said as T;
}

export function errorFrom(body: unknown, status: number): ApiError {
	const said = body && typeof body === "object" && "error" in body ? String(body.error) : NO_ANSWER;
	return new ApiError(said, status);
}

/** Send a form or fetch a file, which the typed client doesn't do. */
export async function send(
	path: string,
	body: BodyInit,
	headers: Record<string, string> = {},
	method = "POST",
	signal: AbortSignal | null = null,
): Promise<Response> {
	let response: Response;
	try {
		response = await fetch(path, {
			method,
			body,
			signal,
			headers: { "X-CSRFToken": csrfToken(), ...headers },
		});
	} catch {
		if (!signal?.aborted) lost();
		throw new ApiError(NO_ANSWER, 0);
	}
	if (!response.ok) throw errorFrom(await response.json().catch(() => null), response.status);
	hear(path, response.headers);
	return response;
}

/** Send a form that may be large, told how much of it is sent (0 to 1); the answer's JSON. */
export function sendWithProgress<T>(path: string, form: FormData, tell: (share: number) => void): Promise<T> {
	return new Promise((resolve, reject) => {
		// fetch doesn't say how far a body is.
		const request = new XMLHttpRequest();
		request.open("POST", path);
		request.setRequestHeader("X-CSRFToken", csrfToken());
		request.responseType = "json";
		request.upload.onprogress = (event) => event.lengthComputable && tell(event.loaded / event.total);
		request.onerror = () => {
			lost();
			reject(new ApiError(NO_ANSWER, 0));
		};
		request.onload = () => (request.status < 300 ? resolve(request.response as T) : reject(errorFrom(request.response, request.status)));
		request.send(form);
	});
}

/** The same where nobody needs the words of the answer: left unread, it would hold its connection. */
export async function sendOnly(...asked: Parameters<typeof send>): Promise<void> {
	await (await send(...asked)).body?.cancel();
}
