import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { inWordsOf, TERMS, type TermId } from "./terms";

/** A word that says what it means where it stands. */
export function Term({ of, children }: { of: TermId; children: ReactNode }) {
	const { id, case_one, case_many } = useProject();
	const { name, said } = TERMS[of];
	return (
		<Popover as="span" className="inline">
			<PopoverButton className="term" aria-label={say("{children}: what it means", { children: String(children).trim() })}>
				{children}
			</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom start", gap: 6 }}
				className="z-50 w-80 rounded-lg border border-line bg-card px-3.5 py-2.5 font-sans text-[13.4px] leading-snug font-normal text-ink shadow-lg"
			>
				<b className="block">{inWordsOf(name, case_one, case_many)}</b>
				<p className="mt-0.5">{inWordsOf(said, case_one, case_many)}</p>
				<Link className="mt-1.5 inline-block font-semibold text-spruce hover:underline" to={`/projects/${id}/words#${of}`}>
					{say("All words")}
				</Link>
			</PopoverPanel>
		</Popover>
	);
}
