import { services } from "@/services/services";
import { Problem } from "@/services/problem";
import { respond, type Params } from "../../../respond";

export const POST = (_request: Request, { params }: Params<"id">) =>
  respond(async () => {
    if (!services().desk.stop((await params).id)) {
      throw new Problem(409, "This measurement is not under way.");
    }
  });
