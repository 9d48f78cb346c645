import { useEffect } from "react";

/** What the window is called: from the narrowest to the widest, so that tabs and screen readers tell pages apart (WCAG 2.4.2). */
export function useTitle(...parts: string[]): void {
	const title = [...parts, "Cohortia"].filter(Boolean).join(" · ");
	useEffect(() => {
		document.title = title;
	}, [title]);
}
