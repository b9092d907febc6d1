/** Where the kernel's tree is read: this machine's, or a directory that stands in for it. */
export const systemRoot = () => process.env.NERRIT_SYSTEM_ROOT || "/";
