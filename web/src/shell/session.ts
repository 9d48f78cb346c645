import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Shape, take } from "../api/client";

/** Drop what the last account saw; the session itself stays watched. */
function forget(client: QueryClient) {
	client.removeQueries({ predicate: (query) => query.queryKey[0] !== "session" });
}

export function useSession() {
	return useQuery({
		queryKey: ["session"],
		queryFn: () => take(api.GET("/api/session")),
		staleTime: Infinity,
	});
}

export function useSignIn() {
	const client = useQueryClient();
	return useMutation({
		mutationFn: (body: Shape<"SignInRequest">) => take(api.POST("/api/session", { body })),
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
			client.setQueryData(["session"], { account: null });
		},
	});
}
