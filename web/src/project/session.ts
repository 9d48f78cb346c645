import { type QueryClient, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, type Shape, take } from "../api/client";
import { drop } from "../api/early";
import { letGo } from "../api/held";
import { language } from "../language/say";
import { useToasts } from "../ui/toasts";
import { dropDrafts } from "./draft";

export type Session = Shape<"SessionOut">;
export const NOBODY: Session = {
	account: null,
	second: [],
	mail: false,
	mailbox: false,
	may_begin: false,
	language: language(),
	language_chosen: "",
	languages: ["en"],
};

/** Drop what the last account saw; the session itself stays watched. */
function forget(client: QueryClient) {
	letGo();
	drop();
	dropDrafts();
	client.removeQueries({ predicate: (query) => query.queryKey[0] !== "session" });
}

export const whoIsThere = queryOptions({
	queryKey: ["session"],
	queryFn: () => take(api.GET("/api/session")),
	staleTime: Infinity,
});

export const useSession = () => useQuery(whoIsThere);

/** Tried already in this tab: a page that comes in another language all the same isn’t asked for again and again. */
const ASKED_IN = "cohortia.asked-in";

/** Whoever signs in is spoken to as their account has it: the page is asked for anew, in that language. */
export function useTheirLanguage(): void {
	const session = useSession().data;
	const theirs = session?.account ? session.language : undefined;
	useEffect(() => {
		if (!theirs || theirs === language() || sessionStorage.getItem(ASKED_IN) === theirs) return;
		sessionStorage.setItem(ASKED_IN, theirs);
		location.reload();
	}, [theirs]);
}

/** Speak to the account in a language (`""`: as the browser has it), from now on. */
export function useSpeak() {
	const { warn } = useToasts();
	return useMutation({
		mutationFn: (wanted: string) => take(api.PUT("/api/account/language", { body: { language: wanted } })),
		onSuccess: () => {
			sessionStorage.removeItem(ASKED_IN);
			location.reload();
		},
		onError: (error) => warn(error.message),
	});
}

/** A step of signing in: whoever it lets in begins with nothing of the last account. */
export function useStep<Said>(step: (said: Said) => Promise<Session>) {
	const client = useQueryClient();
	return useMutation({
		mutationFn: step,
		onSuccess: (session) => {
			forget(client);
			client.setQueryData(["session"], session);
		},
	});
}

export function useSignOut() {
	const client = useQueryClient();
	return useMutation({
		mutationFn: () => take(api.DELETE("/api/session")),
		onSuccess: () => {
			forget(client);
			client.setQueryData(["session"], (before: Session | undefined) => ({
				...NOBODY,
				mail: before?.mail ?? false,
				mailbox: before?.mailbox ?? false,
			}));
		},
	});
}
