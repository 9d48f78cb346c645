import { Link } from "react-router";
import { fetched } from "../../api/files";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { scopeRequest, useScope } from "../../project/scope";
import { useToasts } from "../../ui/toasts";

const LOOK = "font-semibold text-spruce hover:underline print:hidden";

/** Where the table of who was asked leads: to a comparison of those, and into a file. */
export function Onwards({ by, within }: { by: number; within: number }) {
	const { id } = useProject();
	const { scope } = useScope();
	const { tell, warn } = useToasts();
	const take = (format: "xlsx" | "csv") =>
		fetched(`/api/projects/${id}/guide/who/file`, { variable: by, within, scope: scopeRequest(scope), format }).then(
			() => tell(say("Exported: who was asked what, by group.")),
			(error: Error) => warn(error.message),
		);
	return (
		<>
			{" "}
			<Link className={LOOK} to={`/projects/${id}/compare?variable=${by}&base=asked`}>
				{say("Compare those who were asked")}
			</Link>
			{" · "}
			{(["xlsx", "csv"] as const).map((format) => (
				<button
					key={format}
					type="button"
					className={`${LOOK} mr-1.5`}
					aria-label={say("Take it out as .{format}", { format })}
					onClick={() => take(format)}
				>
					.{format}
				</button>
			))}
		</>
	);
}
