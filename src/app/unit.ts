import { cookies } from "next/headers";
import { RateUnit } from "@/core/units/rate";
import { UNIT_COOKIE } from "@/ui/frame/unit-cookie";

/** The unit in which whoever reads this wants rates; the address of a page may say another. */
export async function unitOfReader(): Promise<RateUnit> {
  const said = (await cookies()).get(UNIT_COOKIE)?.value;
  return RateUnit.catch("MB/s").parse(said ? decodeURIComponent(said) : undefined);
}
