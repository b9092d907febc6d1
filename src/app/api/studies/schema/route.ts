import { studyFileSchema } from "@/core/exchange/study-file";

/** The JSON Schema of a study's file. */
export const GET = () => Response.json(studyFileSchema());
