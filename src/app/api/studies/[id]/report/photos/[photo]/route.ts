/** A picture of the bench, as it was kept. */
export { GET } from "@/app/api/photos/[photo]/route";
