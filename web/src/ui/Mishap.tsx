import type { ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { Button } from "./Button";

/** What stands in a page’s place when it stumbles: the rest goes on, and what waits to be saved is saved. ``at``: another address
 * is another page. */
export function Mishap({ at, children }: { at: string; children: ReactNode }) {
	return (
		<ErrorBoundary FallbackComponent={Stumbled} resetKeys={[at]}>
			{children}
		</ErrorBoundary>
	);
}

function Stumbled({ error, resetErrorBoundary }: FallbackProps) {
	return (
		<div role="alert" className="mx-auto mt-16 max-w-lg space-y-3 px-4">
			<h2 className="title">This page stumbled over something</h2>
			<p>
				Nothing that was done is lost: what is saved is saved, and codings on their way are still sent. Show the page again; if it stumbles
				again, go to another one, and tell whoever looks after Cohortia what is written here.
			</p>
			<p className="rounded-md border border-line bg-card px-3 py-2 font-mono text-[12.6px] break-words text-quiet">
				{error instanceof Error ? error.message : String(error)}
			</p>
			<Button look="main" onClick={resetErrorBoundary}>
				Show the page again
			</Button>
		</div>
	);
}
