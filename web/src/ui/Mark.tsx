/** Two rings that overlap: groups, and what they share. */
export function Mark() {
	return (
		<svg width="26" height="20" viewBox="0 0 26 20" aria-hidden="true">
			<circle cx="9" cy="10" r="7.5" fill="none" stroke="var(--color-spruce)" strokeWidth="2.4" />
			<circle cx="17" cy="10" r="7.5" fill="none" stroke="var(--color-apricot)" strokeWidth="2.4" />
		</svg>
	);
}
