"use client";

import dynamic from "next/dynamic";

/** A chart, with what draws it loaded when the first one is shown. */
export const LazyPlot = dynamic(() => import("./plot"), {
  ssr: false,
  loading: () => <div className="h-60" />,
});
