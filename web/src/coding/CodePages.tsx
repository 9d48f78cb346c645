import { NavLink, useLocation } from "react-router";
import { useProject } from "../project/project";

/** The pages of this step, one beside the other. */
export function CodePages({ figures = {} }: { figures?: Record<string, string> }) {
	const project = useProject();
	// Every address of a document is the page to read at.
	const reading = /\/code(\/\d+)?\/?$/.test(useLocation().pathname);
	const pages = [
		{ to: "", label: "Read" },
		{ to: "/answers", label: "Answers" },
		{ to: "/codebook", label: "Codebook" },
		{ to: "/themes", label: "Themes" },
		{ to: "/find", label: "Find" },
		{ to: "/memos", label: "Memos" },
	];
	return (
		<nav aria-label="Pages of coding" className="flex flex-wrap items-center gap-x-4 gap-y-1 print:hidden">
			{pages.map((page) => (
				<NavLink
					key={page.label}
					to={`/projects/${project.id}/code${page.to}`}
					end={page.to === ""}
					aria-current={page.to === "" && reading ? "page" : undefined}
					className={({ isActive }) =>
						`border-b-2 pb-0.5 font-semibold ${isActive || (page.to === "" && reading) ? "border-ink text-ink" : "border-transparent text-quiet hover:text-ink"}`
					}
				>
					{page.label}
					{figures[page.label] && <span className="ml-1 text-xs font-medium text-quiet">{figures[page.label]}</span>}
				</NavLink>
			))}
		</nav>
	);
}
