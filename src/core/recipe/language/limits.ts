/** What a recipe may come to: long lists of coordinates stand in files beside it. */

/** The longest text, in UTF-16 code units, and in bytes where it comes from a file. */
export const recipeLimit = 5_000_000;
export const mostStatements = 50_000;
/** The longest statement, in UTF-16 code units. */
export const longestStatement = 1_000_000;
/** The most curves that all statements draw, the most segments, and the most corners, which become pieces. */
export const mostCurves = 100_000;
export const mostSegments = 2_000_000;
export const mostCorners = 200_000;
/** The most full turns of the control polygons of splines and ellipses in all, and of one of them; those of a degree above 3 count twice. */
export const mostTurns = 40_000;
export const mostTurnsOfCurve = 6_000;
