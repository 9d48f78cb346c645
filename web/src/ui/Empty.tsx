import type { ReactNode } from "react";
import { ApiError } from "../api/client";
import { say } from "../language/say";

/** An empty view says what to do next and has the button for it. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
	return (
		<div className="mx-auto mt-16 max-w-md text-center">
			<h2 className="title mb-2">{title}</h2>
			<div className="space-y-3 text-quiet">{children}</div>
		</div>
	);
}

export function Loading({ what }: { what: string }) {
	return (
		<p className="p-8 text-quiet" role="status">
			{say("Loading {what} …", { what })}
		</p>
	);
}

export function Problem({ error }: { error: Error }) {
	return (
		<p role="alert" className="m-4 rounded-md border border-danger/40 bg-danger-soft px-3 py-2 text-danger">
			{error.message}
		</p>
	);
}

interface Asked {
	error: Error | null;
	data: unknown;
}

/** What keeps a page from being shown: nothing has come, or the server says that it can’t be read. A page that stands there with
 * what somebody has typed or ticked isn’t taken away because one more reading of it failed on the way. */
export function hindrance(...asked: Asked[]): Error | null {
	const barred = asked.find(({ error, data }) => error && (data === undefined || refused(error)));
	return barred?.error ?? null;
}

function refused(error: Error): boolean {
	return error instanceof ApiError && error.status >= 400 && error.status < 500;
}
