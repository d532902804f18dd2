/** By which the saving of a job's revision is known while it is on its way. */
export const saving = (job: string) => ["saving", job];
