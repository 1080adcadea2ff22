export async function insertItem(_id: string): Promise<void> { /* filled in below */ }
