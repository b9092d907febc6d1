import { Link } from "@/ui/controls/link";

export default function NotFound() {
  return (
    <div className="mt-8 space-y-3">
      <h1 className="font-serif text-[28px]">There is nothing here.</h1>
      <p>
        The study may have been on another computer, or the address is mistyped.{" "}
        <Link href="/" className="underline">
          See all studies
        </Link>
      </p>
    </div>
  );
}
