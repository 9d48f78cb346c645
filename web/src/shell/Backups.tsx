import { useQuery } from "@tanstack/react-query";
import { api, take } from "../api/client";
import { isoDay, moment, number } from "../ui/words";

/** How things stand with backups of the whole server, for those who own a project on it. */
export function Backups() {
	const found = useQuery({ queryKey: ["backups"], queryFn: () => take(api.GET("/api/backups")) }).data;
	if (!found) return null;
	return (
		<section aria-labelledby="backups" className="mt-6 rounded-lg border border-line bg-card p-4">
			<h2 id="backups" className="mb-2">
				Backups of this server
			</h2>
			{found.problem && (
				<p className="mb-2 rounded-md border border-danger/40 bg-danger-soft px-3 py-2 text-danger">
					<b>The newest one isn’t whole.</b> {found.problem} Tell whoever looks after the server.
				</p>
			)}
			{found.last_whole_at ? (
				<p>
					The last whole one: <b>{moment(found.last_whole_at)}</b>, {number(Math.max(1, Math.round(found.size / 1024 ** 2)))} MB,{" "}
					{found.locked ? "encrypted" : "not encrypted"}.{found.gone_by && ` It is dropped by ${isoDay(found.gone_by)} at the latest.`}
				</p>
			) : (
				<p>There is no backup yet.</p>
			)}
			<p className="mt-1 quiet-line">
				{found.by_themselves
					? `One is made every night, with all projects and their media. Kept are the last of ${found.kept}.`
					: "None is made by itself. Whoever looks after the server can make one with bin/backup, or set a folder for one every night."}
			</p>
		</section>
	);
}
