import { NavLink } from "react-router";
import { useProject } from "../project/project";

const PAGES = [
	{ to: "", label: "Groups" },
	{ to: "/together", label: "Codes with codes" },
	{ to: "/passages", label: "Passages" },
	{ to: "/overview", label: "Overview" },
	{ to: "/frozen", label: "Frozen" },
];

/** The pages of this step, one beside the other. */
export function ComparePages() {
	const project = useProject();
	return (
		<nav aria-label="Pages of comparing" className="flex flex-wrap items-center gap-x-4 gap-y-1 print:hidden">
			{PAGES.map((page) => (
				<NavLink
					key={page.label}
					to={`/projects/${project.id}/compare${page.to}`}
					end={page.to === ""}
					className={({ isActive }) =>
						`border-b-2 pb-0.5 font-semibold ${isActive ? "border-ink text-ink" : "border-transparent text-quiet hover:text-ink"}`
					}
				>
					{page.label}
				</NavLink>
			))}
		</nav>
	);
}
