import { bench } from "@/bench/bench";
import { Problem } from "@/bench/problem";
import { respond, type Params } from "../../../respond";

export const POST = (_request: Request, { params }: Params<"id">) =>
  respond(async () => {
    if (!bench().desk.stop((await params).id)) {
      throw new Problem(409, "This measurement is not under way.");
    }
  });
