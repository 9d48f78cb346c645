import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { ApiError } from "../api/client";
import { say } from "../language/say";
import { useToasts } from "../ui/toasts";

/** Says so when what is shown couldn’t be read again: it stays, and may not be the latest. That nothing answers at all, the line says. */
export function useStaleTold(): void {
	const client = useQueryClient();
	const { warn } = useToasts();
	useEffect(
		() =>
			client.getQueryCache().subscribe((event) => {
				if (event.type !== "updated" || event.action.type !== "error") return;
				const { error } = event.action;
				const { queryKey, state } = event.query;
				if (queryKey[0] !== "project" || state.data === undefined || !(error instanceof ApiError) || error.status < 500) return;
				warn(say("What is shown may not be the latest. {sentence}", { sentence: error.message }));
			}),
		[client, warn],
	);
}
