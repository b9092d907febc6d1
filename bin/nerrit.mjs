#!/usr/bin/env node
/** The nerrit command. Installs and builds what a fresh clone lacks. */
import { buildCommand, install, root } from "../scripts/prepare.mjs";

install();
buildCommand();
process.env.NERRIT_ROOT = root;
await import("../dist/cli.mjs");
