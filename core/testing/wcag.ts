/** Relative luminance of a colour written `#rrggbb`, 0…1: WCAG 2.2, “relative luminance”. */
const luminance = (colour: string): number => {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const share = parseInt(colour.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};

/** Contrast of two colours written `#rrggbb`, 1…21: WCAG 2.2, “contrast ratio”. */
export const contrast = (a: string, b: string): number => {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (high + 0.05) / (low + 0.05);
};
