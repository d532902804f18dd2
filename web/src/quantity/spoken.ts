/** A name of the file as it is said: underscores are for machines. */
export const spoken = (name: string) => name.replaceAll("_", " ");
