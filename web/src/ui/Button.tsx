import type { ButtonHTMLAttributes } from "react";

type Look = "usual" | "main" | "plain" | "danger";

const LOOKS: Record<Look, string> = {
	usual: "bg-card border-line text-ink hover:border-quiet",
	main: "bg-spruce border-spruce text-on-spruce hover:bg-spruce-deep",
	plain: "bg-transparent border-transparent text-spruce hover:underline px-1",
	danger: "bg-card border-line text-danger hover:border-danger",
};

/** A button that says what it does; `look` says how much it matters. A double click is one click: it makes one thing. */
export function Button({ look = "usual", className = "", onClick, ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
	return (
		<button
			type="button"
			onClick={(event) => {
				// The second of a double click, which would also send a form again.
				if (event.detail > 1) event.preventDefault();
				else onClick?.(event);
			}}
			className={`inline-flex items-center gap-1.5 rounded-md border px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap disabled:opacity-45 ${LOOKS[look]} ${className}`}
			{...rest}
		/>
	);
}
