export { dataFolder } from "@/store/database";
