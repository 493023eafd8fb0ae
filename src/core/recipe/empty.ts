/** The recipe that a new project starts from. */
export const emptyRecipe = (title = 'Untitled'): string => `recipe 1\ntitle "${title}"\nunits mm\nframe planar\n`;
