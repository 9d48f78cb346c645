import type { ReactNode } from "react";
import { Link } from "react-router";
import { phrase, say } from "../language/say";
import { useProject } from "../project/project";
import { Loading, Problem } from "../ui/Empty";
import { type Case, type Unlinked, useCheck, type Variable } from "./data";
import { Linking } from "./Linking";

/** Everything worth a look before comparing: links first, then who and what stands alone. */
export function CheckPage({ rows, cases, variables }: { rows: Unlinked[]; cases: Case[]; variables: Variable[] }) {
	const { case_one, case_many, id } = useProject();
	const found = useCheck();
	const home = `/projects/${id}`;
	return (
		<div className="space-y-4 pb-6">
			<Linking rows={rows} cases={cases} variables={variables} />
			{found.error && <Problem error={found.error} />}
			{found.isPending && <Loading what={say("the check")} />}
			{found.data && (
				<div className="grid max-w-6xl cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3">
					<Part
						title={say("Documents in which no {one} speaks", { one: case_one })}
						why={say("Their passages are in no comparison of {many}.", { many: case_many })}
						count={found.data.documents_without_case.length}
					>
						{found.data.documents_without_case.map((row) => (
							<Link key={row.id} className="block min-h-[24px] text-spruce hover:underline" to={`${home}/code/${row.id}`}>
								{row.title}
							</Link>
						))}
					</Part>
					<Part
						title={say("{many} without material", { many: capital(case_many) })}
						why={say("In no document yet, so not in a base “with material”.")}
						count={found.data.cases_without_material.length}
					>
						{found.data.cases_without_material.map((row) => row.identifier).join(", ")}
					</Part>
					<Part
						title={say("{many} in several documents", { many: capital(case_many) })}
						why={say("Waves, or a group besides an interview: each counts once in a comparison.")}
						count={found.data.cases_in_several.length}
						fine
					>
						{found.data.cases_in_several.map((row) => (
							<p key={row.id}>
								<b>{row.identifier}</b> {row.documents.join(" · ")}
							</p>
						))}
					</Part>
					<Part
						title={say("Participants who never speak")}
						why={say("A label without a word: perhaps a wrong one.")}
						count={found.data.silent_speakers.length}
					>
						{found.data.silent_speakers.map((row) => (
							<p key={row.id}>
								{phrase("<b>{label}</b> in <link>{title}</link>", {
									b: (inner) => <b>{inner}</b>,
									label: row.label,
									link: (inner) => (
										<Link className="text-spruce hover:underline" to={`${home}/code/${row.document}`}>
											{inner}
										</Link>
									),
									title: row.title,
								})}
							</p>
						))}
					</Part>
				</div>
			)}
		</div>
	);
}

function Part({
	title,
	why,
	count,
	fine = false,
	children,
}: {
	title: string;
	why: string;
	count: number;
	fine?: boolean;
	children: ReactNode;
}) {
	return (
		<section className="rounded-lg border border-line bg-card px-3.5 py-2.5" aria-label={title}>
			<h2 className="flex items-baseline gap-2 text-[14px]!">
				{title}
				<span className={`ml-auto text-[12.6px] font-medium ${count && !fine ? "text-apricot-deep" : "text-quiet"}`}>
					{count || say("none")}
				</span>
			</h2>
			<p className="quiet-line">{count ? why : say("Nothing to look at.")}</p>
			{count > 0 && (
				// biome-ignore lint/a11y/noNoninteractiveTabindex: a long list is scrolled by keyboard too
				<div className="mt-1 max-h-40 pane text-[13.4px]" tabIndex={0}>
					{children}
				</div>
			)}
		</section>
	);
}

function capital(word: string): string {
	return word.charAt(0).toUpperCase() + word.slice(1);
}
