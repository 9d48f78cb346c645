import type { ReactNode } from "react";
import { say } from "../language/say";
import { Mark } from "../ui/Mark";
import { useTitle } from "../ui/title";

interface Props {
	/** What the window is called. */
	called: string;
	title: ReactNode;
	children: ReactNode;
	wide?: boolean;
}

/** A page that stands outside every project: one card. */
export function Outside({ called, title, children, wide = false }: Props) {
	useTitle(called);
	return (
		<main className="grid min-h-screen place-items-center p-6">
			<div className={`w-full ${wide ? "max-w-2xl" : "max-w-sm"} rounded-lg border border-line bg-card p-7`}>
				<div className="mb-1 flex items-center gap-2.5">
					<Mark />
					<span className="font-serif text-xl font-semibold">{say("Cohortia")}</span>
				</div>
				<h1 className="mb-5 text-[15px]! font-normal! text-quiet">{title}</h1>
				{children}
			</div>
		</main>
	);
}

/** A labelled field of a form on such a page. */
export function Field({
	label,
	value,
	onChange,
	hint,
	...rest
}: { label: string; value: string; onChange: (value: string) => void; hint?: string } & Omit<
	React.InputHTMLAttributes<HTMLInputElement>,
	"value" | "onChange"
>) {
	return (
		<label className="mb-3 block font-semibold">
			{label}
			<input className="field mt-1 w-full font-normal" value={value} onChange={(event) => onChange(event.target.value)} {...rest} />
			{hint && <span className="mt-0.5 block text-[12.6px] font-normal text-quiet">{hint}</span>}
		</label>
	);
}

export function Wrong({ error }: { error: Error | null }) {
	if (!error) return null;
	return (
		<p role="alert" className="mb-3 rounded-md bg-danger-soft px-3 py-2 text-danger">
			{error.message}
		</p>
	);
}
