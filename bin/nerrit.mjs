#!/usr/bin/env node
/** The nerrit command. Installs and builds what a fresh clone lacks. */
import { buildCommand, install } from "../scripts/prepare.mjs";

install();
buildCommand();
await import("../dist/cli.mjs");
