/** The group that owns the nodes at a place, where a recipe says so. */
export interface NodeOwner {
	at: { x: number; y: number };
	group: string;
	/** Index of the statement. */
	line: number;
}
