"use client";

import { Button } from "@/ui/controls/form";

export default function ErrorPage({ reset }: { reset: () => void }) {
  return (
    <div className="mt-8 space-y-3" role="alert">
      <h1 className="font-serif text-[28px]">This page could not be made.</h1>
      <p>Nothing of yours was changed. Nerrit’s log says what went wrong.</p>
      <Button onClick={reset}>Try again</Button>
    </div>
  );
}
