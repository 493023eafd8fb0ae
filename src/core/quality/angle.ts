const degrees = 180 / Math.PI;

/** tan⁻¹ at 1/2 and 1. */
const atHalf = 4.63647609000806093515e-1;
const atOne = 7.85398163397448278999e-1;

/**
 * The angle in degrees, from 0 to 360, whose sine and cosine are in the ratio of `cross` to `dot`. The arc tangent is taken
 * as W. Cody & W. Waite (1980, ch. 11) do, on intervals around 0, 1/2 and 1, with the polynomial of Sun's fdlibm (1993): the error
 * is below one unit in the last place, and only sums, products and quotients are used, which are the same everywhere.
 */
export function angleOf(cross: number, dot: number): number {
	const y = Math.abs(cross);
	const x = Math.abs(dot);
	// Both are zero where a side has no length.
	const t = y > x ? x / y : x > 0 ? y / x : 0;
	let angle: number;
	if (t < 0.4375) angle = series(t);
	else if (t < 0.6875) angle = atHalf + series((2 * t - 1) / (2 + t));
	else angle = atOne + series((t - 1) / (t + 1));
	if (y > x) angle = Math.PI / 2 - angle;
	if (dot < 0) angle = Math.PI - angle;
	return cross < 0 ? 360 - angle * degrees : angle * degrees;
}

/** tan⁻¹ of a small number. */
function series(t: number): number {
	const z = t * t;
	const w = z * z;
	const odd =
		z *
		(3.33333333333329318027e-1 +
			w *
				(1.42857142725034663711e-1 +
					w *
						(9.09088713343650656196e-2 +
							w * (6.66107313738753120669e-2 + w * (4.97687799461593236017e-2 + w * 1.62858201153657823623e-2)))));
	const even =
		w *
		(-1.99999999998764832476e-1 +
			w *
				(-1.1111110405462355788e-1 +
					w * (-7.69187620504482999495e-2 + w * (-5.83357013379057348645e-2 + w * -3.6531572744216915527e-2))));
	return t - t * (odd + even);
}
