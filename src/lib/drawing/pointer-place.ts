/** Where the pointer is, in pixels of the drawing, and what is held with it. */
export interface PointerPlace {
	px: number;
	py: number;
	/** False while Ctrl is held: nothing snaps. */
	snapping: boolean;
	/** Shift, Ctrl or Cmd is held: what is picked is added. */
	adding: boolean;
}
