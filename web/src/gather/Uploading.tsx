import { useEffect } from "react";
import { ApiError, sendOnly } from "../api/client";
import { say } from "../language/say";
import { useProject, useWrite } from "../project/project";
import { useSession } from "../project/session";
import { Button } from "../ui/Button";
import { FILES_AT_ONCE } from "./data";
import { againWithFailed, arrived, callOff, couldNot, oneByOne, takeNext, useOnWay } from "./uploads";

/** Where this member’s files go. */
export function useUploadPlace(): string {
	const { id } = useProject();
	return `${useSession().data?.account?.id} ${id}`;
}

/** Sends what was chosen, a few files at a time, so that each can be seen to arrive and one bad batch stops little. Once a project. */
export function Uploads() {
	const { id } = useProject();
	const place = useUploadPlace();
	const onWay = useOnWay(place);
	const waits = onWay.some((one) => one.state === "waits");
	const busy = onWay.some((one) => one.state === "reading");
	const { mutate } = useWrite(
		async () => {
			const { files, signal } = takeNext(place, FILES_AT_ONCE);
			const form = new FormData();
			for (const one of files) form.append("files", one.file);
			try {
				await sendOnly(`/api/projects/${id}/staged`, form, {}, "POST", signal);
				arrived(files);
			} catch (error) {
				if (signal.aborted) return;
				const refused = error instanceof ApiError && error.status >= 400 && error.status < 500;
				if (refused && files.length > 1) oneByOne(files);
				else couldNot(files, (error as Error).message);
			}
		},
		{ quiet: true },
	);
	useEffect(() => {
		if (waits && !busy) mutate(undefined);
	}, [waits, busy, mutate]);
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
