import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { ApiError, send } from "../api/client";
import { say } from "../language/say";
import { useProject } from "../project/project";
import { useSession } from "../project/session";
import { Button } from "../ui/Button";
import { useStable } from "../ui/stable";
import type { Staged } from "./data";
import { againWithFailed, arrived, callOff, couldNot, nothingOnWay, oneByOne, somethingWaits, takeNext, useOnWay } from "./uploads";

/** Where this member’s files go. */
export function useUploadPlace(): string {
	const { id } = useProject();
	return `${useSession().data?.account?.id} ${id}`;
}

/** So many batches at once: the server reads one on each of two processors. */
const LANES = 2;

/** Sends what was chosen, a few files at a time, so that each can be seen to arrive and one bad batch stops little. Once a project. */
export function Uploads() {
	const { id } = useProject();
	const client = useQueryClient();
	const place = useUploadPlace();
	const onWay = useOnWay(place);
	const lanes = useRef(0);
	const waits = onWay.some((one) => one.state === "waits");
	const busy = onWay.some((one) => one.state === "reading");
	const sendNext = async () => {
		const { files, signal } = takeNext(place);
		const form = new FormData();
		for (const one of files) form.append("files", one.file);
		try {
			const answer = await send(`/api/projects/${id}/staged`, form, {}, "POST", signal);
			const rows: Staged[] = await answer.json();
			client.setQueryData<Staged[]>(["project", id, "staged"], (shown) => shown && [...shown, ...rows]);
			arrived(files);
			// A recording and its text find each other, whichever came first.
			if (rows.some((row) => row.kind === "recording")) void client.invalidateQueries({ queryKey: ["project", id, "staged"] });
		} catch (error) {
			if (signal.aborted) return;
			const refused = error instanceof ApiError && error.status >= 400 && error.status < 500;
			if (refused && files.length > 1) oneByOne(files);
			else couldNot(files, (error as Error).message);
		}
	};
	const sendOn = useStable(async () => {
		lanes.current += 1;
		await sendNext();
		lanes.current -= 1;
		if (nothingOnWay(place)) void client.invalidateQueries({ queryKey: ["project", id] });
		else await sendMore();
	});
	const sendMore = useStable(async () => {
		while (lanes.current < LANES && somethingWaits(place)) void sendOn();
	});
	useEffect(() => {
		if (waits) void sendMore();
	}, [waits, sendMore]);
	useEffect(() => {
		if (!waits && !busy) return;
		// They are in this page only: the browser asks before it closes it.
		const ask = (event: BeforeUnloadEvent) => event.preventDefault();
		window.addEventListener("beforeunload", ask);
		return () => window.removeEventListener("beforeunload", ask);
	}, [waits, busy]);
	return null;
}

const SAID = { waits: say("waits for its turn"), reading: say("is being read …") };

/** The files that aren’t read yet, each with where it is. */
export function FilesOnWay() {
	const place = useUploadPlace();
	const onWay = useOnWay(place);
	if (!onWay.length) return null;
	const failed = onWay.filter((one) => one.state === "failed");
	return (
		<section aria-label={say("Files on their way")} className="border-t border-line">
			<div className="flex flex-wrap items-center gap-2 bg-paper2 px-2.5 py-1.5 text-[12.6px]">
				<span role="status">{say("{files, plural, one {# file} other {# files}} not read yet", { files: onWay.length })}</span>
				<span className="ml-auto flex gap-2">
					{failed.length > 0 && <Button onClick={() => againWithFailed(place)}>{say("Try again")}</Button>}
					<Button onClick={() => callOff(place)}>{failed.length === onWay.length ? say("Leave them out") : say("Stop")}</Button>
				</span>
			</div>
			<ul>
				{onWay.map((one) => (
					<li key={one.key} className="border-t border-line2 px-2.5 py-1.5">
						<span className="block truncate font-semibold" title={one.file.name}>
							{one.file.name}
						</span>
						{one.state === "failed" ? (
							<span role="alert" className="block text-[12.4px] text-danger">
								{one.why}
							</span>
						) : (
							<span className="block text-[12.4px] text-quiet">{SAID[one.state]}</span>
						)}
					</li>
				))}
			</ul>
		</section>
	);
}
