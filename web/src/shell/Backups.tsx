import { useQuery } from "@tanstack/react-query";
import { api, take } from "../api/client";
import { phrase, say } from "../language/say";
import { isoDay, moment } from "../ui/words";

/** How things stand with backups of the whole server, for those who own a project on it. */
export function Backups() {
	const found = useQuery({ queryKey: ["backups"], queryFn: () => take(api.GET("/api/backups")) }).data;
	if (!found) return null;
	return (
		<section aria-labelledby="backups" className="mt-6 rounded-lg border border-line bg-card p-4">
			<h2 id="backups" className="mb-2">
				{say("Backups of this server")}
			</h2>
			{found.problem && (
				<p className="mb-2 rounded-md border border-danger/40 bg-danger-soft px-3 py-2 text-danger">
					{phrase("<b>The newest one isn’t whole.</b> {problem} Tell whoever looks after the server.", {
						b: (inner) => <b>{inner}</b>,
						problem: found.problem,
					})}
				</p>
			)}
			{found.last_whole_at ? (
				<p>
					{found.locked
						? phrase("The last whole one: <b>{last_whole_at}</b>, {n, number} MB, encrypted.", {
								b: (inner) => <b>{inner}</b>,
								last_whole_at: moment(found.last_whole_at),
								n: Math.max(1, Math.round(found.size / 1024 ** 2)),
							})
						: phrase("The last whole one: <b>{last_whole_at}</b>, {n, number} MB, not encrypted.", {
								b: (inner) => <b>{inner}</b>,
								last_whole_at: moment(found.last_whole_at),
								n: Math.max(1, Math.round(found.size / 1024 ** 2)),
							})}
					{found.gone_by && say(" It is dropped by {gone_by} at the latest.", { gone_by: isoDay(found.gone_by) })}
				</p>
			) : (
				<p>{say("There is no backup yet.")}</p>
			)}
			<p className="mt-1 quiet-line">
				{found.by_themselves
					? say("One is made every night, with all projects and their media. Kept are the last of {kept}.", { kept: found.kept })
					: say(
							"None is made by itself. Whoever looks after the server can make one with bin/backup, or set a folder for one every night.",
						)}
			</p>
		</section>
	);
}
