export { StoreProblem } from "@/store/store-problem";
