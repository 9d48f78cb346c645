import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Shape } from "../api/client";

export type Own = Shape<"OwnOut">;

export function Part({ title, children }: { title: string; children: ReactNode }) {
	return (
		<section className="mt-5 rounded-lg border border-line bg-card p-4" aria-label={title}>
			<h2 className="mb-2">{title}</h2>
			{children}
		</section>
	);
}

/** A write on the account; what is shown of it is read again. */
export function useOwn<Said, Answer>(write: (said: Said) => Promise<Answer>, done?: (answer: Answer) => void) {
	const client = useQueryClient();
	return useMutation({
		mutationFn: write,
		onSuccess: (answer) => {
			void client.invalidateQueries({ queryKey: ["account"] });
			done?.(answer);
		},
	});
}
