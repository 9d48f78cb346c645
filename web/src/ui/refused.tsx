import { type ReactNode, useId } from "react";

interface Refused {
	/** For the field that the refusal is about. */
	field: { "aria-invalid"?: true; "aria-describedby"?: string };
	/** The sentence, to stand beneath it. */
	said: ReactNode;
}

/** Why something wasn’t done, said at once and tied to the field that it is about (WCAG 3.3.1). */
export function useRefused(error: Error | null | undefined): Refused {
	const id = useId();
	if (!error) return { field: {}, said: null };
	return {
		field: { "aria-invalid": true, "aria-describedby": id },
		said: (
			<p id={id} role="alert" className="mb-2 rounded-md bg-danger-soft px-3 py-1.5 text-danger">
				{error.message}
			</p>
		),
	};
}
