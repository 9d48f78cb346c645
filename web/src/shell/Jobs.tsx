import { api, take } from "../api/client";
import { say } from "../language/say";
import { useProject, useStatus, useWrite } from "../project/project";

/** Long work under way, with how far it is. */
export function Jobs() {
	const { id } = useProject();
	const job = useStatus().data?.jobs[0];
	const cancel = useWrite((job_id: number) =>
		take(
			api.DELETE("/api/projects/{project_id}/jobs/{job_id}", {
				params: { path: { project_id: id, job_id } },
			}),
		),
	);
	if (!job) return null;
	return (
		<div className="flex items-center gap-2 text-[12.6px]" role="status">
			<span>{job.title}</span>
			<progress className="h-1.5 w-20 accent-spruce" max={job.total || 1} value={job.done} aria-label={job.title} />
			<button type="button" className="font-semibold text-spruce hover:underline" onClick={() => cancel.mutate(job.id)}>
				{say("Cancel")}
			</button>
		</div>
	);
}
