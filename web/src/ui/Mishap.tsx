import type { ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { Link, useLocation } from "react-router";
import { say } from "../language/say";
import { Button } from "./Button";

/** What stands in a page’s place when it stumbles: the rest goes on, and what waits to be saved is saved. ``at``: the page’s own
 * address; whoever goes anywhere, there too, is shown the page again. */
export function Mishap({ at, children }: { at: string; children: ReactNode }) {
	const { key } = useLocation();
	return (
		<ErrorBoundary fallbackRender={(fallen) => <Stumbled {...fallen} at={at} />} resetKeys={[at, key]}>
			{children}
		</ErrorBoundary>
	);
}

function Stumbled({ error, resetErrorBoundary, at }: FallbackProps & { at: string }) {
	return (
		<div role="alert" className="mx-auto mt-16 max-w-lg space-y-3 px-4">
			<h2 className="title">{say("This page stumbled over something")}</h2>
			<p>
				{say(
					"Nothing that was done is lost: what is saved is saved, and codings on their way are still sent. Show the page again; if it stumbles again, open it as if for the first time, without what was chosen on it; and tell whoever looks after Cohortia what is written here.",
				)}
			</p>
			<p className="rounded-md border border-line bg-card px-3 py-2 font-mono text-[12.6px] break-words text-quiet">
				{error instanceof Error ? error.message : String(error)}
			</p>
			<div className="flex items-center gap-3">
				<Button look="main" onClick={resetErrorBoundary}>
					{say("Show the page again")}
				</Button>
				{/* It may be the address that it stumbles over, and that is what its step goes back to. */}
				<Link className="font-semibold text-spruce hover:underline" to={at}>
					{say("Open it anew")}
				</Link>
			</div>
		</div>
	);
}
