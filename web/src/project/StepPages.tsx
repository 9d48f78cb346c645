import { Link } from "react-router";
import { usePlace } from "./places";
import { useProject } from "./project";

interface Props {
	/** What is read out of these links together. */
	name: string;
	/** Addresses within the project, and what they are called. */
	pages: readonly { page: string; label: string; figure?: string }[];
}

/** The pages of a step, one beside the other; each opens as it was left. */
export function StepPages({ name, pages }: Props) {
	const place = usePlace(useProject().id);
	return (
		<nav aria-label={name} className="flex flex-wrap items-center gap-x-4 gap-y-1 print:hidden">
			{pages.map(({ page, label, figure }) => (
				<Link
					key={page}
					to={place.page(page)}
					aria-current={place.at === page ? "page" : undefined}
					className={`border-b-2 pb-0.5 font-semibold ${place.at === page ? "border-ink text-ink" : "border-transparent text-quiet hover:text-ink"}`}
				>
					{label}
					{figure && <span className="ml-1 text-xs font-medium text-quiet">{figure}</span>}
				</Link>
			))}
		</nav>
	);
}
